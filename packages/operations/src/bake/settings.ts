import { z } from 'zod';
import { SUN_SEASONS } from '@zographos/core/bake';
import { BLEND_MODES, describeKind, MAP_KIND_IDS, type BakedKind } from '@zographos/core/image';
import { channelPick, normalSpace } from '@zographos/formats/meaning';
import { FIRST_TILE, LAST_TILE } from '@zographos/core/uv';
import { colorText } from '../colorText.ts';
import {
  AIMS,
  BACK_FACE_RULES,
  CURVATURES,
  ID_COLORINGS,
  RAY_DIRECTIONS,
  RAY_SPREADS,
  REPEAT_GRIDS,
} from './options.ts';

const length = z.number().nonnegative();
const vector = z.tuple([z.number(), z.number(), z.number()]);
const direction = vector.refine((v) => Math.hypot(...v) > 0, 'A direction needs some length.');
const OF_A_MAP = 'Maps are 16 to 16384 px wide and high. Choose a size between.';
const side = z.int().min(16, OF_A_MAP).max(16384, OF_A_MAP);
export const mapSize = z.strictObject({ width: side, height: side });
export const tileNumber = z
  .int()
  .min(FIRST_TILE, `UDIM tiles have numbers from ${FIRST_TILE} to ${LAST_TILE}.`)
  .max(LAST_TILE, `UDIM tiles have numbers from ${FIRST_TILE} to ${LAST_TILE}.`);

const tileKey = z.string().regex(/^(1\d{3}|2000)$/);

const reach = z
  .strictObject({ out: length, in: length })
  .refine((reach) => reach.out + reach.in > 0, 'Rays need some reach: set how far out or in they may go.');

const occlusion = z.strictObject({
  /** Rays from each sample. */
  rays: z.int().min(1).max(4096),
  spread: z.enum(RAY_SPREADS),
  /** How far they look, in mesh units. */
  distance: z.union([z.literal('unlimited'), z.number().positive()]),
  /** What lies farther counts less. */
  fallOff: z.boolean(),
  /** Whether backs of surfaces block as well. */
  twoSided: z.boolean(),
  /** What blocks: the sources that a part sees itself, all sources, or those named. */
  occluders: z.union([z.enum(['own', 'all']), z.array(z.string()).min(1)]).default('own'),
  /** Radius in texels within which noise is smoothed away; 0 leaves it. */
  smooth: z.int().min(0).max(8).default(0),
});

/** Spaces belong to an ending: “kit light” ends in “ light”, “daylight” does not. */
const ending = z.string().refine((text) => text.trim() !== '', 'An ending needs at least one character.');
const endings = z.array(ending).min(1).max(16);

/** A picture of the ticket that lies on the source, mixed over what is below it. */
export const pictureLayer = z.strictObject({
  /** Its number among the ticket's pictures. */
  picture: z.int().min(0),
  /** The source's UV set that it lies on, and what lies beyond its border. */
  uvSet: z.int().min(0).max(63).default(0),
  wrap: z.enum(['repeat', 'mirror', 'clamp']).default('repeat'),
  /** How often it lies across and up the tile. */
  tiling: z.tuple([z.number().positive().max(1000), z.number().positive().max(1000)]).default([1, 1]),
  blend: z.enum(BLEND_MODES).default('normal'),
  opacity: z.number().min(0).max(1).default(1),
  tint: z.tuple([z.number().min(0).max(4), z.number().min(0).max(4), z.number().min(0).max(4)]).default([1, 1, 1]),
  contrast: z.number().min(0).max(4).default(1),
  saturation: z.number().min(0).max(4).default(1),
  /** The one channel of the picture that is laid on, as if the picture were grey. */
  pick: channelPick.optional(),
});

export type PictureOfTicket = z.infer<typeof pictureLayer>;

const everySetting = z.strictObject({
  /** Those that a bake cannot make are carried over from images. */
  maps: z
    .array(z.enum(MAP_KIND_IDS))
    .min(1, 'Choose at least one map to bake.')
    .refine((maps) => new Set(maps).size === maps.length, 'Each map can be asked for once.'),
  size: mapSize,
  /** The UDIM tiles to bake: those named, or all in which there are islands. */
  tiles: z.union([z.literal('all'), z.array(tileNumber).min(1)]).default([FIRST_TILE]),
  /** Tiles with a size of their own, by number. */
  tileSizes: z.record(tileKey, mapSize).default({}),
  /** `fitted` is measured for each vertex. */
  reach: z.union([z.enum(['auto', 'fitted']), reach]),
  /** Receivers with a reach of their own, by name. */
  reachOf: z.record(z.string(), reach).default({}),
  /** Where the reach was changed by hand. */
  touches: z
    .array(z.strictObject({ at: vector, radius: z.number().positive(), out: length.max(100), in: length.max(100) }))
    .max(2000)
    .default([]),
  /** What the sources' lengths are multiplied by, where they come in another unit than the receivers. */
  sourceScale: z.number().positive().max(1e6).default(1),
  /** Maps that are carried over from pictures which lie on the source, from below upwards. */
  pictures: z.partialRecord(z.enum(MAP_KIND_IDS), z.array(pictureLayer).min(1).max(16)).default({}),
  /** Along rays, to the nearest place of the source, or through the triangles that both share. */
  aim: z.enum(AIMS).default('rays'),
  /** Samples along each axis of a texel: 4 means 4 × 4. */
  samples: z.int().min(1).max(8),
  /** Baked so many times larger along each axis, and then halved. */
  oversize: z.union([z.literal(1), z.literal(2), z.literal(4)]).default(1),
  padding: z.union([z.literal('all'), z.int().min(0).max(16384)]),
  /** What stands beyond the padding, as it is written in files; left out, the neutral value. */
  background: colorText.nullable().optional(),
  /** UDIM tiles with a background of their own, by number. */
  tileBackgrounds: z.record(tileKey, colorText).optional(),
  /** Whether texels along seams are changed so that both sides agree. */
  mend: z.boolean().default(false),
  normal: normalSpace.extend({ axes: normalSpace.shape.axes.default('xyz') }),
  uvSet: z.int().min(0).max(7),
  backFaces: z.enum(BACK_FACE_RULES),
  /** Along which normals rays go: smooth over hard edges, the receiver's own, or smooth at hard edges only. */
  direction: z.enum(RAY_DIRECTIONS).default('smooth'),
  /** How wide the smooth rim at hard edges is, in mesh units. */
  blendWidth: z.union([z.literal('auto'), z.number().positive()]).default('auto'),
  /** Which sources each receiver may see. */
  match: z
    .union([z.literal('all'), z.strictObject({ receiverEndings: endings, sourceEndings: endings })])
    .default('all'),
  /** Whether sources are repeated over the receiver's tile. */
  repeat: z
    .union([
      z.literal('none'),
      z.strictObject({
        grid: z.enum(REPEAT_GRIDS),
        columns: z.int().min(1).max(64),
        /** As many as keep the proportions of the grid, unless a number is said. */
        rows: z.union([z.literal('follow'), z.int().min(1).max(64)]).default('follow'),
      }),
    ])
    .default('none'),
  occlusion: occlusion.prefault({
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
    .strictObject({ show: z.enum(CURVATURES), radius: z.union([z.literal('auto'), length]) })
    .prefault({ show: 'both', radius: 'auto' }),
  /** The way a gradient grows. */
  gradient: direction.default([0, 1, 0]),
  /** The part of the sky that a sky map counts; left out, the whole sky above +Y. */
  sky: z.strictObject({ up: direction, angle: z.number().min(1).max(90) }).optional(),
  /** The way of the sun that a sun map follows; left out, a year at 50° north above a mesh whose −Z is north. */
  sun: z
    .strictObject({
      up: direction.default([0, 1, 0]),
      north: direction.default([0, 0, -1]),
      latitude: z.number().min(-90).max(90).default(50),
      season: z.enum(SUN_SEASONS).default('year'),
    })
    .optional(),
  /** What the colours of an ID map tell apart. */
  id: z.enum(ID_COLORINGS).default('slot'),
  /** Another number gives other noise. */
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(0),
  /** Whether the result is measured for what may be wrong with it. */
  prove: z.boolean().default(true),
});

/** Everything an artist can say about a bake; what is left open (`auto`) is measured when it runs. */
export const bakeSettings = everySetting.superRefine(({ maps, pictures }, context) => {
  const bare = maps.find((kind) => !describeKind(kind).isBaked && !pictures[kind]);
  if (!bare) return;
  const message = `A ${describeKind(bare).phrase} map cannot be baked. Carry it over from an image, or leave it out.`;
  context.addIssue({ code: 'custom', path: ['maps'], message });
});

export type BakeOperationSettings = z.infer<typeof bakeSettings>;

/** What one pass of rays bakes: maps that are computed, and none that is only carried over. */
export type BakePassSettings = Omit<BakeOperationSettings, 'maps'> & { maps: BakedKind[] };

/** The settings of one pass of rays, without the maps that are only carried over. */
export const passOf = (settings: BakeOperationSettings): BakePassSettings => ({
  ...settings,
  maps: settings.maps.filter((kind): kind is BakedKind => describeKind(kind).isBaked),
});

/** A bake of a normal map; what is measured when it runs is left open. */
export const DEFAULT_BAKE = bakeSettings.parse({
  maps: ['normal'],
  size: { width: 1024, height: 1024 },
  reach: 'auto',
  samples: 4,
  padding: 16,
  normal: { space: 'tangent', y: 'up' },
  uvSet: 0,
  backFaces: 'ignore',
}) as BakePassSettings;
