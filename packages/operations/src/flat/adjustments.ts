import { z } from 'zod';
import type { Adjustment } from '@zographos/core/adjust';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { colorText } from '../colorText.ts';
import type { Labels } from '../labels.ts';
import { channelPick, colorSpace, mapConvention } from '@zographos/formats/meaning';

/** What the operations of flat material share. */

const share = z.number().min(0).max(1);

/** Colours between which a ramp runs. */
export const colorStops = z
  .array(z.strictObject({ at: share, color: colorText }))
  .min(1)
  .max(32);
/** @param radius of what looks at more than one texel */
const stepsWith = (radius: z.ZodNumber) =>
  z.discriminatedUnion('do', [
    z.strictObject({
      do: z.literal('levels'),
      black: share.default(0),
      white: share.default(1),
      gamma: z.number().min(0.1).max(10).default(1),
    }),
    z.strictObject({
      do: z.literal('curves'),
      points: z
        .array(z.tuple([share, share]))
        .min(1)
        .max(16),
    }),
    z.strictObject({ do: z.literal('brightness'), amount: z.number().min(-1).max(1) }),
    z.strictObject({ do: z.literal('contrast'), amount: z.number().min(0).max(4) }),
    z.strictObject({ do: z.literal('saturation'), amount: z.number().min(0).max(4) }),
    z.strictObject({ do: z.literal('hue'), degrees: z.number().min(-180).max(180) }),
    z.strictObject({ do: z.literal('invert') }),
    z.strictObject({ do: z.literal('blur'), radius }),
    z.strictObject({ do: z.literal('sharpen'), radius, amount: z.number().min(0).max(8) }),
    z.strictObject({ do: z.literal('denoise'), radius, edge: share }),
    z.strictObject({ do: z.literal('high-pass'), radius }),
    z.strictObject({ do: z.literal('equalise'), amount: share.default(1) }),
    z.strictObject({ do: z.literal('clamp'), low: share, high: share }),
    z.strictObject({ do: z.literal('remap'), low: z.number().min(-4).max(4), high: z.number().min(-4).max(4) }),
    z.strictObject({ do: z.literal('ramp'), stops: colorStops }),
  ]) satisfies z.ZodType<Adjustment>;

/** Radii are shares of the width. */
const current = stepsWith(z.number().min(0).max(0.5));

/** The same with radii in millimetres, as layers have them. */
export const adjustmentInMillimetres = stepsWith(z.number().min(0).max(1000));

/**
 * What the numbers of one kind of step may be.
 * @example adjustmentSchema('blur').shape.radius.maxValue // 0.5
 */
export function adjustmentSchema<Kind extends Adjustment['do']>(kind: Kind) {
  const found = current.options.find(({ shape }) => shape.do.value === kind);
  return found as Extract<typeof found, z.ZodObject<{ do: z.ZodLiteral<Kind> }>>;
}

/** One step of what is done to a map at the end. */
export const adjustment = z.preprocess((step) => {
  const former = z.looseObject({ do: z.literal('high pass') }).safeParse(step);
  return former.success ? { ...former.data, do: 'high-pass' } : step;
}, current);

export const ADJUSTMENT_LABELS: Labels<Adjustment['do']> = {
  levels: { label: 'Levels' },
  curves: { label: 'Curves' },
  brightness: { label: 'Brightness' },
  contrast: { label: 'Contrast' },
  saturation: { label: 'Saturation' },
  hue: { label: 'Hue' },
  invert: { label: 'Invert' },
  blur: { label: 'Blur' },
  sharpen: { label: 'Sharpen' },
  denoise: { label: 'Denoise' },
  'high-pass': { label: 'High pass' },
  equalise: { label: 'Equalise' },
  clamp: { label: 'Clamp' },
  remap: { label: 'Remap' },
  ramp: { label: 'Gradient ramp' },
};

/** What is done to each map at the end. */
export const adjustments = z.partialRecord(z.enum(MAP_KIND_IDS), z.array(adjustment).max(16)).default({});

/** What a picture that goes in holds. */
export const pictureMeaning = z.strictObject({
  kind: z.enum(MAP_KIND_IDS),
  colorSpace,
  /** How its directions or heights are meant; left out for what glTF 2.0 has, or nobody has said. */
  convention: mapConvention.optional(),
  /** The one channel of the picture that is it. */
  pick: channelPick.optional(),
});
export type PictureMeaning = z.infer<typeof pictureMeaning>;
