import { z } from 'zod';
import { BAKED_KINDS, BLOCK, CHANNELS, type BakedKind } from '@zographos/core';
import type { Operation } from '../operation.ts';

const length = z.number().nonnegative();

export const reachSetting = z
  .strictObject({ out: length, in: length })
  .refine((reach) => reach.out + reach.in > 0, 'Rays need some reach: set how far out or in they may go.');

const occlusionSetting = z.strictObject({
  /** Rays from each sample. */
  rays: z.int().min(1).max(4096),
  spread: z.enum(['cosine', 'uniform']),
  /** How far they look, in mesh units. */
  distance: z.union([z.literal('unlimited'), z.number().positive()]),
  /** What lies farther counts less. */
  fallOff: z.boolean(),
  /** Whether backs of surfaces block as well. */
  twoSided: z.boolean(),
});

/** Everything an artist can say about a bake; what is left open (`auto`) is measured when it runs. */
export const bakeSettings = z.strictObject({
  maps: z
    .array(z.enum(BAKED_KINDS))
    .min(1, 'Choose at least one map to bake.')
    .refine((maps) => new Set(maps).size === maps.length, 'Each map can be asked for once.'),
  size: z.strictObject({
    width: z.int().min(16).max(16384),
    height: z.int().min(16).max(16384),
  }),
  reach: z.union([z.literal('auto'), reachSetting]),
  /** Samples along each axis of a texel: 4 means 4 × 4. */
  samples: z.int().min(1).max(8),
  padding: z.union([z.literal('all'), z.int().min(0).max(16384)]),
  normal: z.strictObject({ space: z.enum(['tangent', 'object']), y: z.enum(['up', 'down']) }),
  uvSet: z.int().min(0).max(7),
  backFaces: z.enum(['ignore', 'accept']),
  /** Along which normals rays go: smooth over hard edges, or the receiver's own. */
  direction: z.enum(['smooth', 'split']).default('smooth'),
  occlusion: occlusionSetting.prefault({
    rays: 64,
    spread: 'cosine',
    distance: 'unlimited',
    fallOff: false,
    twoSided: true,
  }),
  /** How heights become whole numbers: the receiver's surface is `mid`, and black to white spans `span` mesh units. */
  height: z
    .strictObject({ mid: z.number().min(0).max(1), span: z.union([z.literal('auto'), z.number().positive()]) })
    .prefault({ mid: 0.5, span: 'auto' }),
  curvature: z
    .strictObject({ show: z.enum(['both', 'convex', 'concave']), radius: z.union([z.literal('auto'), length]) })
    .prefault({ show: 'both', radius: 'auto' }),
  /** What the colours of an ID map tell apart. */
  id: z.enum(['slot', 'object', 'part']).default('slot'),
  /** Another number gives other noise. */
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(0),
});

export type BakeOperationSettings = z.infer<typeof bakeSettings>;

export const DEFAULT_BAKE: BakeOperationSettings = bakeSettings.parse({
  maps: ['normal'],
  size: { width: 1024, height: 1024 },
  reach: 'auto',
  samples: 4,
  padding: 16,
  normal: { space: 'tangent', y: 'up' },
  uvSet: 0,
  backFaces: 'ignore',
});

/** Whether a map casts fans of rays from each sample. */
const castsFans = (kind: BakedKind): boolean => kind === 'ao' || kind === 'bent' || kind === 'thickness';

/** Rays that one sample of a bake casts. */
function raysPerSample({ maps, occlusion }: BakeOperationSettings): number {
  const above = maps.includes('ao') || maps.includes('bent') ? occlusion.rays : 0;
  const below = maps.includes('thickness') ? occlusion.rays : 0;
  return 1 + above + below;
}

/** Bytes for each source triangle: as a record while building, as corners in packets, in nodes and numbers. */
const BYTES_PER_SOURCE_TRIANGLE = 12 + 12 + 32 + 72 + 24;
const BYTES_PER_SOURCE_VERTEX = 60;
/** A running Node process with its libraries. */
const BASE_BYTES = 220e6;

export const bakeOperation: Operation<BakeOperationSettings> = {
  kind: 'bake',
  version: 2,
  settings: bakeSettings,
  outputs: (settings) => settings.maps,

  estimate(settings, { receiver, sources }) {
    const { size, samples, maps } = settings;
    const texels = size.width * size.height;
    const scene = sources.reduce(
      (sum, source) => sum + source.triangles * BYTES_PER_SOURCE_TRIANGLE + source.vertices * BYTES_PER_SOURCE_VERTEX,
      0,
    );
    const blockSamples = (BLOCK * samples) ** 2;
    const channels = maps.reduce((sum, kind) => sum + CHANNELS[kind], 0);
    // Per texel: floats of every map, a state, rows for padding, and one map's reduced copies while encoding.
    const map = texels * (channels * 4 + 1 + 2 + 12);
    const threads = 8 * blockSamples * 100;
    return {
      rays: texels * samples * samples * raysPerSample(settings),
      memoryBytes: BASE_BYTES + map + scene + threads + receiver.triangles * 400,
    };
  },

  sentence(settings, names, unit) {
    const { size, reach, samples, padding, normal, maps, occlusion } = settings;
    const px = size.width === size.height ? `${size.width} px` : `${size.width} × ${size.height} px`;
    const frame = normal.space === 'tangent' ? `tangent space, Y ${normal.y}` : 'object space';
    const reaching: { text: string; slot?: string }[] = names.cage
      ? [
          { text: 'from ' },
          { text: names.cage, slot: 'cage' },
          { text: ' to ' },
          { text: reach === 'auto' ? 'as far as measured' : withUnit(reach.in, unit), slot: 'reach' },
          { text: ' in' },
        ]
      : reach === 'auto'
        ? [{ text: 'as far as measured', slot: 'reach' }]
        : [
            { text: withUnit(reach.out, unit), slot: 'reach' },
            { text: ' out and ' },
            { text: withUnit(reach.in, unit), slot: 'reach' },
            { text: ' in' },
          ];
    const directed = maps.includes('normal') || maps.includes('bent');
    const fans = maps.some(castsFans)
      ? [{ text: ', ' }, { text: `${occlusion.rays} rays from each`, slot: 'occlusion' }]
      : [];
    return [
      { text: 'Bake ' },
      { text: maps.join(', '), slot: 'maps' },
      ...(directed ? [{ text: ' (' }, { text: frame, slot: 'normal' }, { text: ')' }] : []),
      { text: ' of ' },
      { text: names.receiver, slot: 'receiver' },
      { text: ' from ' },
      { text: names.sources.join(' and ') || 'nothing yet', slot: 'sources' },
      { text: ' at ' },
      { text: px, slot: 'size' },
      { text: ', reaching ' },
      ...reaching,
      { text: ', with ' },
      { text: `${samples} × ${samples}`, slot: 'samples' },
      { text: ' samples' },
      ...fans,
      { text: ' and ' },
      { text: padding === 'all' ? 'padding everywhere' : `${padding} px`, slot: 'padding' },
      { text: padding === 'all' ? '.' : ' padding.' },
    ];
  },
};

const withUnit = (value: number, unit: string): string => `${Number(value.toPrecision(4))} ${unit}`;
