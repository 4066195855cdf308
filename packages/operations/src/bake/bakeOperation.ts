import { z } from 'zod';
import { BLOCK } from '@zographos/core';
import type { Operation } from '../operation.ts';

const length = z.number().nonnegative();

export const reachSetting = z
  .strictObject({ out: length, in: length })
  .refine((reach) => reach.out + reach.in > 0, 'Rays need some reach: set how far out or in they may go.');

/** Everything an artist can say about a bake; what is left open (`auto`) is measured when it runs. */
export const bakeSettings = z.strictObject({
  maps: z.array(z.enum(['normal'])).min(1, 'Choose at least one map to bake.'),
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
});

export type BakeOperationSettings = z.infer<typeof bakeSettings>;

export const DEFAULT_BAKE: BakeOperationSettings = {
  maps: ['normal'],
  size: { width: 1024, height: 1024 },
  reach: 'auto',
  samples: 4,
  padding: 16,
  normal: { space: 'tangent', y: 'up' },
  uvSet: 0,
  backFaces: 'ignore',
};

/** Bytes for each source triangle: its numbers, box while building, place, corners and about two tree nodes. */
const BYTES_PER_SOURCE_TRIANGLE = 12 + 24 + 4 + 36 + 64;
const BYTES_PER_SOURCE_VERTEX = 48;
/** A running Node process with its libraries. */
const BASE_BYTES = 220e6;

export const bakeOperation: Operation<BakeOperationSettings> = {
  kind: 'bake',
  version: 1,
  settings: bakeSettings,
  outputs: (settings) => settings.maps,

  estimate({ size, samples }, { receiver, sources }) {
    const texels = size.width * size.height;
    const scene = sources.reduce(
      (sum, source) => sum + source.triangles * BYTES_PER_SOURCE_TRIANGLE + source.vertices * BYTES_PER_SOURCE_VERTEX,
      0,
    );
    const blockSamples = (BLOCK * samples) ** 2;
    // Per texel: three floats and a state, rows for padding, and the reduced copies and bytes while encoding.
    const map = texels * (12 + 1 + 2 + 12);
    const threads = 8 * blockSamples * 80;
    return {
      rays: texels * samples * samples,
      memoryBytes: BASE_BYTES + map + scene + threads + receiver.triangles * 400,
    };
  },

  sentence(settings, names, unit) {
    const { size, reach, samples, padding, normal, maps } = settings;
    const px = size.width === size.height ? `${size.width} px` : `${size.width} × ${size.height} px`;
    const frame = normal.space === 'tangent' ? `tangent space, Y ${normal.y}` : 'object space';
    const reaching: { text: string; slot?: string }[] =
      reach === 'auto'
        ? [{ text: 'as far as measured', slot: 'reach' }]
        : [
            { text: withUnit(reach.out, unit), slot: 'reach' },
            { text: ' out and ' },
            { text: withUnit(reach.in, unit), slot: 'reach' },
            { text: ' in' },
          ];
    return [
      { text: 'Bake ' },
      { text: maps.join(', '), slot: 'maps' },
      { text: ' (' },
      { text: frame, slot: 'normal' },
      { text: ') of ' },
      { text: names.receiver, slot: 'receiver' },
      { text: ' from ' },
      { text: names.sources.join(' and ') || 'nothing yet', slot: 'sources' },
      { text: ' at ' },
      { text: px, slot: 'size' },
      { text: ', reaching ' },
      ...reaching,
      { text: ', with ' },
      { text: `${samples} × ${samples}`, slot: 'samples' },
      { text: ' samples and ' },
      { text: padding === 'all' ? 'padding everywhere' : `${padding} px`, slot: 'padding' },
      { text: padding === 'all' ? '.' : ' padding.' },
    ];
  },
};

const withUnit = (value: number, unit: string): string => `${Number(value.toPrecision(4))} ${unit}`;
