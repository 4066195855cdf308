import { z } from 'zod';
import {
  BANDS,
  DEFAULT_TONE_HEIGHT,
  DERIVED_KINDS,
  DERIVE_SOURCES,
  SLOPE_OPERATORS,
  TONE_WAYS,
} from '@zographos/core/derive';
import { renamed } from '../renamed.ts';
import { colorText } from '../colorText.ts';
import { adjustments, pictureMeaning } from '../flat/adjustments.ts';

const share = z.number().min(0).max(1);

const FORMER_TONE_WAYS = {
  'light is high': 'light-high',
  'light is low': 'dark-high',
  'band by band': 'by-detail-size',
} as const;

const pick = z.strictObject({
  color: colorText,
  tolerance: share.default(0.1),
  softness: share.default(0.1),
  value: share,
});

const weight = z.number().min(-4).max(4);

const picked = (base: number, { tone = 0, saturation = 0, cavity = 0 } = {}) =>
  z
    .strictObject({
      base: share.default(base),
      tone: weight.default(tone),
      saturation: weight.default(saturation),
      cavity: weight.default(cavity),
      picks: z.array(pick).max(32).default([]),
      detail: weight.default(0),
    })
    .prefault({});

/** Everything an artist can say about maps that are derived from a picture. Lengths are in tile widths. */
export const deriveSettings = z.strictObject({
  maps: z
    .array(z.enum(DERIVED_KINDS))
    .min(1, 'Choose at least one map to derive.')
    .refine((maps) => new Set(maps).size === maps.length, 'Each map can be asked for once.'),
  /** What the picture holds. */
  picture: pictureMeaning,
  from: z.enum(DERIVE_SOURCES).default('color'),
  repeats: z.boolean().default(true),
  depth: z.number().positive().max(4).nullable().default(null),
  /** Where no depth is set nor measured: the degrees that hardly any slope exceeds. */
  steepness: z.number().min(1).max(85).default(45),
  height: z
    .strictObject({
      way: renamed(TONE_WAYS, FORMER_TONE_WAYS).default('light-high'),
      weights: z
        .array(z.number().min(-4).max(4))
        .length(BANDS)
        .default([...DEFAULT_TONE_HEIGHT.weights]),
      contrast: z.number().min(0).max(4).default(1),
      bias: z.number().min(-1).max(1).default(0),
    })
    .prefault({}),
  normal: z
    .strictObject({
      operator: z.enum(SLOPE_OPERATORS).default('Scharr'),
      scales: z.array(z.number().min(0).max(4)).length(4).default([1, 0, 0, 0]),
      y: z.enum(['up', 'down']).default('up'),
      sharpen: z.number().min(0).max(8).default(0),
      denoise: share.default(0),
    })
    .prefault({}),
  ao: z
    .strictObject({
      reach: z.number().positive().max(1).default(0.06),
      slices: z.int().min(2).max(64).default(8),
    })
    .prefault({}),
  edges: z
    .strictObject({
      width: z.number().min(0).max(0.25).default(0.002),
      radius: z.number().positive().max(1).default(0.02),
    })
    .prefault({}),
  cavity: z
    .strictObject({
      width: z.number().positive().max(0.5).default(0.02),
      strength: z.number().min(0).max(20).default(1),
    })
    .prefault({}),
  roughness: picked(0.65, { tone: -0.6, saturation: 0.2, cavity: 0.35 }),
  metallic: picked(0),
  specular: picked(0.5),
  opacity: picked(1),
  displacement: z
    .strictObject({
      /** Of the tile in the world, in the unit that heights are to have. */
      tileWidth: z.number().positive().max(1e6).default(1000),
      middle: share.default(0.5),
    })
    .prefault({}),
  adjust: adjustments,
});

export type DeriveSettings = z.infer<typeof deriveSettings>;
