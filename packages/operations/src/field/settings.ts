import { z } from 'zod';
import { BLEND_MODES, MAP_KIND_IDS } from '@zographos/core/image';
import {
  DEFAULT_LAYER,
  FIELD_KINDS,
  GRUNGE_KINDS,
  NOISE_STYLES,
  NO_VARIATION,
  RAMP_WAYS,
  WRAPS,
} from '@zographos/core/pattern';
import { mapSize } from '../bake/settings.ts';
import { renamed } from '../renamed.ts';
import { CELL_MEASURES, MAP_CONTENTS } from './options.ts';
import { colorText } from '../colorText.ts';
import { adjustments, pictureMeaning } from '../flat/adjustments.ts';

const share = z.number().min(0).max(1);
const seed = z.int().min(0).max(1_000_000);
const count = z.int().min(1).max(256);

const layerNow = z.strictObject({
  kind: renamed(FIELD_KINDS, { 'gradient noise': 'gradient-noise', 'simplex noise': 'simplex-noise' }),
  scale: z.number().positive().max(256).default(DEFAULT_LAYER.scale),
  seed: seed.default(DEFAULT_LAYER.seed),
  octaves: z.int().min(1).max(12).default(DEFAULT_LAYER.octaves),
  lacunarity: z.number().min(1.2).max(4).default(DEFAULT_LAYER.lacunarity),
  gain: share.default(DEFAULT_LAYER.gain),
  style: z.enum(NOISE_STYLES).default(DEFAULT_LAYER.style),
  jitter: share.default(DEFAULT_LAYER.jitter),
  measure: z.enum(CELL_MEASURES).default(DEFAULT_LAYER.measure),
  columns: count.default(DEFAULT_LAYER.columns),
  rows: count.default(DEFAULT_LAYER.rows),
  shift: share.default(DEFAULT_LAYER.shift),
  line: share.default(DEFAULT_LAYER.line),
  thickness: share.default(DEFAULT_LAYER.thickness),
  bevel: share.default(DEFAULT_LAYER.bevel),
  elements: z
    .strictObject({
      tone: share.default(NO_VARIATION.tone),
      tilt: share.default(NO_VARIATION.tilt),
      offset: share.default(NO_VARIATION.offset),
    })
    .prefault({}),
  count: z.int().min(1).max(20_000).default(DEFAULT_LAYER.count),
  length: z.number().min(0.005).max(1).default(DEFAULT_LAYER.length),
  width: z.number().min(0.0001).max(0.1).default(DEFAULT_LAYER.width),
  curl: share.default(DEFAULT_LAYER.curl),
  direction: z.number().min(-180).max(180).default(DEFAULT_LAYER.direction),
  spread: share.default(DEFAULT_LAYER.spread),
  grunge: z.enum(GRUNGE_KINDS).default(DEFAULT_LAYER.grunge),
  cover: share.default(DEFAULT_LAYER.cover),
  picture: z.int().min(0).max(15).default(DEFAULT_LAYER.picture),
  over: z.int().min(1).max(8).default(DEFAULT_LAYER.over),
  way: z.enum(RAMP_WAYS).default(DEFAULT_LAYER.way),
  times: count.default(DEFAULT_LAYER.times),
  warp: z
    .strictObject({
      amount: z.number().min(0).max(0.5).default(0),
      scale: z.number().positive().max(64).default(3),
      seed: seed.default(7),
    })
    .prefault({}),
  levels: z.tuple([share, share]).default([0, 1]),
  threshold: z.strictObject({ at: share, soft: share }).nullable().default(null),
  invert: z.boolean().default(false),
  blend: z.enum(BLEND_MODES).default('normal'),
  opacity: share.default(1),
});

/** Layers of before elements could tilt said how unlike bricks are in tone as `variety`, which no other kind looked at. */
const fieldLayer = z.preprocess((value) => {
  const former = z.looseObject({ kind: z.string(), variety: share }).safeParse(value);
  if (!former.success) return value;
  const { variety, ...rest } = former.data;
  return rest.kind === 'bricks' ? { ...rest, elements: { tone: variety } } : rest;
}, layerNow);

const stop = z.strictObject({ at: share, color: colorText });

/** A field is a short list of layers, each over the one before, seen as one or more maps. */
export const fieldSettings = z.strictObject({
  /** What the images hold that are motifs. */
  pictures: z.array(pictureMeaning).max(16).default([]),
  layers: z.array(fieldLayer).min(1, 'A field needs at least one layer.').max(16),
  wrap: z.enum(WRAPS).default('flat-torus'),
  samples: z.int().min(1).max(8).default(2),
  size: mapSize,
  /** The maps it becomes; with a ramp in colours, else grey. */
  maps: z
    .array(
      z.strictObject({
        kind: z.enum(MAP_KIND_IDS),
        /** The values of all layers, or what tells the elements of the uppermost layer that has any apart. */
        shows: z.enum(MAP_CONTENTS).default('values'),
        ramp: z.array(stop).min(2).max(16).nullable().default(null),
      }),
    )
    .min(1, 'A field becomes at least one map.')
    .max(8)
    .refine((all) => new Set(all.map(({ kind }) => kind)).size === all.length, 'Each kind of map can be there once.')
    .default([{ kind: 'height', shows: 'values', ramp: null }]),
  adjust: adjustments,
});

export type FieldSettings = z.infer<typeof fieldSettings>;
