import { z } from 'zod';
import { BLEND_MODES, COLOR_BLEND_MODES } from '@zographos/core/image';
import {
  everyLayer,
  BLENDED_CHANNELS,
  HEIGHT_BLENDS,
  LAYER_CHANNELS,
  MASK_COMBINES,
  MEASURED_KINDS,
  NORMAL_BLENDS,
  type Layer,
  type MaskStep,
  type SourceStep,
} from '@zographos/core/layers';
import { NOISE_STYLES, SOLID_NOISES } from '@zographos/core/pattern';
import { FIRST_TILE, LAST_TILE } from '@zographos/core/uv';
import { colorText } from '../colorText.ts';
import { adjustmentInMillimetres, colorStops } from '../flat/adjustments.ts';

/** The most layers of a stack, those in groups too. */
export const MOST_LAYERS = 500;
/** How deep groups may lie in one another. */
const DEEPEST = 8;

const share = z.number().min(0).max(1);
const millimetres = z.number().min(-1e6).max(1e6);
const length = z.number().min(0).max(1e6);
const positive = z.number().positive().max(1e6);
const degrees = z.number().min(-360).max(360);
const direction = z
  .tuple([z.number(), z.number(), z.number()])
  .refine((v) => Math.hypot(...v) > 0, 'A direction needs some length.');
const point = z.tuple([millimetres, millimetres, millimetres]);
const triangle = z.int().min(0);
/** Letters of the name of a layer. */
export const MOST_LAYER_NAME = 120;
/** Letters of a name that the mesh gives: of a slot, of an object. */
export const MOST_MESH_NAME = 400;
const names = z.array(z.string().max(MOST_MESH_NAME)).min(1).max(4096);
const channels = z
  .array(z.enum(LAYER_CHANNELS))
  .min(1, 'Choose at least one channel.')
  .refine((all) => new Set(all).size === all.length, 'Each channel can be chosen once.');

const field = z.strictObject({
  noise: z.enum(SOLID_NOISES).default('gradient-noise'),
  size: positive.default(20),
  octaves: z.int().min(1).max(12).default(5),
  style: z.enum(NOISE_STYLES).default('smooth'),
  levels: z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)]).default([0, 1]),
  seed: z.int().min(0).max(1e6).default(1),
});

const projection = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('uv') }),
  z.strictObject({ by: z.literal('triplanar'), sharpness: z.number().min(1).max(32).default(6) }),
  z.strictObject({ by: z.literal('planar'), direction }),
  z.strictObject({ by: z.literal('cylinder'), axis: direction }),
]);

/** The most strokes of one layer. */
export const MOST_STROKES = 20_000;
const strokeNames = z.array(z.string().min(1).max(64)).max(MOST_STROKES).default([]);

const breakup = z.strictObject({ amount: share, field }).nullable().default(null);

const picturePlace = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('layout') }),
  z.strictObject({
    on: z.literal('island'),
    triangle,
    turn: degrees.default(0),
    mirror: z.boolean().default(false),
    fill: z.boolean().default(false),
  }),
  z.strictObject({
    on: z.literal('surface'),
    center: point,
    normal: direction,
    up: direction.default([0, 1, 0]),
    width: positive,
    height: positive,
    depth: positive,
    angle: z.number().min(1).max(180).default(80),
    falloff: z.number().min(0).max(180).default(20),
  }),
]);

const stepBase = {
  combine: z.enum(MASK_COMBINES).default('multiply'),
  invert: z.boolean().default(false),
  strength: share.default(1),
};

const sourceSteps = [
  z.strictObject({
    ...stepBase,
    measure: z.literal('id'),
    colors: z.array(colorText).min(1).max(256),
    tolerance: share.default(0.02),
  }),
  z.strictObject({ ...stepBase, measure: z.literal('slot'), slots: names }),
  z.strictObject({ ...stepBase, measure: z.literal('object'), objects: names }),
  z.strictObject({ ...stepBase, measure: z.literal('part'), triangles: z.array(triangle).min(1).max(4096) }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('near'),
    triangles: z.array(triangle).min(1).max(4096),
    reach: positive.default(20),
  }),
  z.strictObject({ ...stepBase, measure: z.literal('island'), triangles: z.array(triangle).min(1).max(4096) }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('tile'),
    tiles: z.array(z.int().min(FIRST_TILE).max(LAST_TILE)).min(1),
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('faces'),
    ranges: z
      .array(z.tuple([triangle, triangle]))
      .min(1)
      .max(100_000),
    of: z.int().positive(),
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('map'),
    map: z.enum(MEASURED_KINDS),
    from: z.number(),
    to: z.number(),
  }),
  z.strictObject({ ...stepBase, measure: z.literal('axis'), axis: direction, from: millimetres, to: millimetres }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('facing'),
    direction,
    angle: z.number().min(0).max(180).default(60),
    softness: z.number().min(0).max(180).default(20),
  }),
  z.strictObject({ ...stepBase, measure: z.literal('painted'), strokes: strokeNames }),
  z.strictObject({ ...stepBase, measure: z.literal('field'), field }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('picture'),
    picture: z.int().min(0),
    channel: z.enum(['grey', 'red', 'green', 'blue', 'alpha']).default('grey'),
    projection: projection.default({ by: 'uv' }),
    width: positive.default(100),
    place: picturePlace.nullable().default(null),
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('wear'),
    radius: positive.default(2),
    hardness: share.default(0.5),
    sheltered: share.default(0.6),
    breakup,
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('dust'),
    amount: share.default(0.5),
    angle: z.number().min(0).max(180).default(55),
    softness: z.number().min(0).max(180).default(30),
    blownOff: length.default(0),
    breakup,
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('waterline'),
    axis: direction.default([0, 1, 0]),
    level: millimetres,
    ragged: length.default(4),
    raggedSize: positive.default(30),
    band: length.default(20),
    seed: z.int().min(0).max(1e6).default(1),
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('sunFade'),
    amount: share.default(0.6),
    threshold: share.default(0.1),
    breakup,
  }),
] as const;
const sourceStep = z.discriminatedUnion('measure', sourceSteps) satisfies z.ZodType<SourceStep>;

/** Where a process begins. */
const from = z.array(sourceStep).max(16).default([]);
const seed = z.int().min(0).max(1e6).default(1);

/** The most drops of one process, and the most seeds. */
export const MOST_DROPS = 2_000_000;
const MOST_SEEDS = 20_000;

const maskStep = z.discriminatedUnion('measure', [
  ...sourceSteps,
  z.strictObject({
    ...stepBase,
    measure: z.literal('runs'),
    from,
    drops: z.int().min(1).max(MOST_DROPS).default(2000),
    length: positive.default(100),
    width: positive.default(3),
    amount: share.default(0.5),
    down: direction.default([0, -1, 0]),
    wander: z.number().min(0).max(4).default(0.4),
    wanderSize: positive.default(12),
    clings: z.number().min(0).max(90).default(50),
    seed,
  }),
  z.strictObject({
    ...stepBase,
    measure: z.literal('spreading'),
    from,
    seeds: z.int().min(1).max(MOST_SEEDS).default(40),
    reach: positive.default(20),
    vary: share.default(0.6),
    softness: share.default(0.3),
    roughness: share.default(0.3),
    roughSize: positive.default(10),
    seed,
  }),
]) satisfies z.ZodType<MaskStep>;

const mask = z
  .strictObject({
    steps: z.array(maskStep).max(32).default([]),
    shaping: z
      .strictObject({
        levels: z.tuple([share, share]).default([0, 1]),
        contrast: z.number().min(0).max(16).default(1),
        blur: z.number().min(0).max(1000).default(0),
        grow: z.number().min(-1000).max(1000).default(0),
        breakup,
        invert: z.boolean().default(false),
      })
      .prefault({}),
  })
  .prefault({});

const blend = z.enum([...BLEND_MODES, ...COLOR_BLEND_MODES]);

/** The same for each of the artist's own masks. */
export const ownMasks = <Value>(value: Value) => ({
  maskred: value,
  maskgreen: value,
  maskblue: value,
  maskalpha: value,
});

const layerBase = {
  id: z.string().min(1).max(64),
  name: z.string().trim().min(1, 'A layer needs a name.').max(MOST_LAYER_NAME),
  visible: z.boolean().default(true),
  opacity: share.default(1),
  blend: blend.default('normal'),
  /** Blend modes of single channels, where they differ. */
  blends: z.partialRecord(z.enum(BLENDED_CHANNELS), blend).default({}),
  heightBlend: z.enum(HEIGHT_BLENDS).default('add'),
  normalBlend: z.enum(NORMAL_BLENDS).default('detail'),
  mask,
};

const values = {
  basecolor: colorText.optional(),
  roughness: share.optional(),
  metallic: share.optional(),
  height: z.number().min(-1000).max(1000).optional(),
  opacity: share.optional(),
  emission: colorText.optional(),
  ...ownMasks(share.optional()),
};
const spanOf = <Value extends z.ZodType<number>>(value: Value) => z.tuple([value, value]).optional();

/** A tiling material as it is laid down, by its number among those of the stack. */
export const tilingSettings = z.strictObject({
  material: z.int().min(0),
  channels,
  projection: projection.default({ by: 'triplanar', sharpness: 6 }),
  scale: z.number().positive().max(1000).default(1),
  turn: degrees.default(0),
  offset: z.tuple([millimetres, millimetres]).default([0, 0]),
  varyBy: z.enum(['nothing', 'part', 'island']).default('nothing'),
  relief: z.number().min(0).max(10).default(1),
});

/** One layer: what it lays down, and where. */
export const layer: z.ZodType<Layer> = z.discriminatedUnion('content', [
  z.strictObject({ ...layerBase, content: z.literal('plain'), values: z.strictObject(values) }),
  z.strictObject({ ...layerBase, content: z.literal('tiling'), ...tilingSettings.shape }),
  z.strictObject({
    ...layerBase,
    content: z.literal('picture'),
    picture: z.int().min(0),
    channels,
    place: picturePlace.default({ on: 'layout' }),
    relief: millimetres.default(1),
  }),
  z.strictObject({
    ...layerBase,
    content: z.literal('field'),
    field,
    ramp: colorStops.nullable().default(null),
    values: z.strictObject({
      roughness: spanOf(share),
      metallic: spanOf(share),
      height: spanOf(z.number().min(-1000).max(1000)),
      opacity: spanOf(share),
      ...ownMasks(spanOf(share)),
    }),
  }),
  z.strictObject({ ...layerBase, content: z.literal('painted'), channels, strokes: strokeNames }),
  z.strictObject({ ...layerBase, content: z.literal('maps'), channels }),
  z.strictObject({
    ...layerBase,
    content: z.literal('adjustment'),
    channels,
    steps: z.array(adjustmentInMillimetres).min(1).max(16),
  }),
  z.strictObject({
    ...layerBase,
    content: z.literal('group'),
    get layers() {
      return z.array(layer).max(MOST_LAYERS);
    },
  }),
]);

/** All layers of a stack. */
export const layerList = z
  .array(layer)
  .max(MOST_LAYERS)
  .superRefine((layers, context) => {
    const all = [...everyLayer(layers)];
    if (all.length > MOST_LAYERS) {
      context.addIssue({
        code: 'custom',
        message: `A stack has at most ${MOST_LAYERS} layers; this one has ${all.length}.`,
      });
    }
    if (new Set(all.map(({ id }) => id)).size < all.length) {
      context.addIssue({ code: 'custom', message: 'Two layers have the same id.' });
    }
    if (depthOf(layers) > DEEPEST) {
      context.addIssue({ code: 'custom', message: `Groups lie at most ${DEEPEST} deep in one another.` });
    }
  });

const depthOf = (layers: readonly Layer[]): number =>
  layers.reduce((most, each) => (each.content === 'group' ? Math.max(most, 1 + depthOf(each.layers)) : most), 0);
