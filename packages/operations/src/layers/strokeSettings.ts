import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { BRUSH_TOOLS, FILL_REACHES, PLAIN_BRUSH, POINT, VARYING, type Stroke } from '@zographos/core/layers';
import { colorText } from '../colorText.ts';
import { ownMasks, tilingSettings } from './layerSettings.ts';

/** The most points of one stroke. */
export const MOST_POINTS = 100_000;
/** Of a dab, in millimetres. */
export const MOST_RADIUS = 1e5;

const share = z.number().min(0).max(1);
const millimetres = z.number().min(-1e6).max(1e6);
const place = z.tuple([millimetres, millimetres, millimetres]);
const axis = z.literal([0, 1, 2]);

/** A picture on a brush, by its number among those of the stack. */
const brushPicture = z.strictObject({
  picture: z.int().min(0),
  lies: z.enum(['dab', 'surface', 'view']).default('dab'),
  gives: z.enum(['shape', 'colour', 'normal']).default('shape'),
  turn: z.enum(['fixed', 'along', 'random', 'pressure']).default('fixed'),
  angle: z.number().min(-360).max(360).default(0),
  width: z.number().positive().max(1e6).default(100),
  view: z.array(z.number()).length(12).default([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1]),
});
const symmetry = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('mirror'), axis, at: millimetres.default(0) }),
  z.strictObject({ by: z.literal('turn'), axis, at: place.default([0, 0, 0]), times: z.int().min(2).max(64) }),
]);
const variation = z.strictObject({ by: z.enum(['random', 'pressure']), least: share.default(0) });
const brushNow = z.strictObject({
  tool: z.enum(BRUSH_TOOLS).default('paint'),
  radius: z.number().positive().max(MOST_RADIUS).default(PLAIN_BRUSH.radius),
  hardness: share.default(PLAIN_BRUSH.hardness),
  strength: share.default(1),
  flow: share.default(1),
  spacing: z.number().min(0.02).max(10).default(PLAIN_BRUSH.spacing),
  scatter: z.number().min(0).max(10).default(0),
  picture: brushPicture.nullable().default(null),
  symmetry: symmetry.nullable().default(null),
  fill: z.enum(FILL_REACHES).default('face'),
  fillAngle: z.number().min(0).max(180).default(PLAIN_BRUSH.fillAngle),
  from: place.default([0, 0, 0]),
  varies: z.partialRecord(z.enum(VARYING), variation).default(PLAIN_BRUSH.varies),
});
const brush = z.preprocess(withVariations, brushNow);
const paint = z.union([
  z.strictObject({ grey: share }),
  z.strictObject({ tiling: tilingSettings }),
  z.strictObject({
    basecolor: colorText.optional(),
    roughness: share.optional(),
    metallic: share.optional(),
    height: z.number().min(-1000).max(1000).optional(),
    opacity: share.optional(),
    emission: colorText.optional(),
    ...ownMasks(share.optional()),
  }),
]);

/** Brushes that were kept before said only whether pressure changes the radius, and what each dab adds. */
function withVariations(kept: unknown): unknown {
  const formerly = formerBrush.safeParse(kept);
  if (!formerly.success) return kept;
  const { pressure, ...rest } = formerly.data;
  const by = 'pressure';
  return {
    ...rest,
    varies: {
      ...(pressure.radius ? { radius: { by, least: 0.02 } } : {}),
      ...(pressure.strength ? { flow: { by, least: 0 } } : {}),
    },
  };
}
const formerBrush = z.looseObject({
  pressure: z.strictObject({ radius: z.boolean().default(false), strength: z.boolean().default(true) }),
});

/** A stroke as it is stored and sent: its points are the bytes of floats, low byte first, as base64. */
export const strokeRecord = z.strictObject({
  brush,
  paint,
  points: z.base64().max(Math.ceil((MOST_POINTS * POINT * 4) / 3) * 4 + 4),
  seed: z.int().min(0),
});
export type StrokeRecord = z.infer<typeof strokeRecord>;

/** @example recordOfStroke(stroke).points // 'AAAgQQ…' */
export function recordOfStroke({ brush: own, paint: laid, points, seed }: Stroke): StrokeRecord {
  const bytes = new Uint8Array(points.buffer, points.byteOffset, points.byteLength);
  let binary = '';
  // In parts, for a call takes only so many arguments.
  for (let at = 0; at < bytes.length; at += 0x8000) binary += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return {
    brush: { ...own } as StrokeRecord['brush'],
    paint: { ...laid } as StrokeRecord['paint'],
    points: btoa(binary),
    seed,
  };
}

/** @throws input/bad-settings for points that are none */
export function strokeOfRecord({ brush: own, paint: laid, points, seed }: StrokeRecord): Stroke {
  const binary = atob(points);
  const bytes = Uint8Array.from(binary, (char) => char.charCodeAt(0));
  const floats = new Float32Array(bytes.buffer, 0, Math.floor(bytes.length / 4));
  if (bytes.length === 0 || bytes.length % (POINT * 4) !== 0 || !floats.every(Number.isFinite)) {
    throw new ZographosError(
      'input/bad-settings',
      `A stroke needs points of ${POINT} finite numbers each: x, y, z, the normal and pressure. Paint it again.`,
    );
  }
  return { brush: own, paint: laid, points: floats, seed };
}

/** A stroke as a file has it; see `strokeText`. */
export const recordOfStrokeText = ({ brush: own, paint: laid, points, seed }: Stroke): z.input<typeof strokeText> => ({
  brush: { ...own },
  paint: { ...laid } as StrokeRecord['paint'],
  points: [...points],
  seed,
});

/** A stroke as it is written in a file: its points as numbers one after the other, seven for each. */
export const strokeText = z
  .strictObject({
    brush: brush.prefault({}),
    paint,
    points: z
      .array(z.number())
      .min(POINT)
      .max(MOST_POINTS * POINT)
      .refine((all) => all.length % POINT === 0, 'A point has seven numbers: x, y, z, its normal and pressure.'),
    seed: z.int().min(0).default(0),
  })
  .transform((text): Stroke => ({ ...text, points: Float32Array.from(text.points) }));
