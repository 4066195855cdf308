import { z } from 'zod';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import { mapSize, tileNumber } from '../bake/settings.ts';
import { layerList } from './layerSettings.ts';

const picture = z.int().min(0);

/** A tiling material that layers lay down. */
const tilingMaterial = z.strictObject({
  name: z.string().max(120),
  /** The flat set that it is, where there is one. */
  set: z.uuid().nullable().default(null),
  /** Of one tile in the world, in millimetres. */
  width: z.number().positive().max(1e6).default(1000),
  /** Its maps among the ticket's images. */
  maps: z.partialRecord(z.enum(MAP_KIND_IDS), picture).default({}),
});

/** Everything an artist can say about a stack of layers. Lengths are in millimetres. */
export const layersSettings = z.strictObject({
  size: mapSize,
  /** The UDIM tiles that are composed: those named, or all in which there are islands. */
  tiles: z.union([z.literal('all'), z.array(tileNumber).min(1)]).default([FIRST_TILE]),
  uvSet: z.int().min(0).max(7).default(0),
  /** Millimetres of one unit of the meshes. */
  unit: z.number().positive().max(1e6).default(1),
  padding: z.union([z.literal('all'), z.int().min(0).max(16384)]).default(16),
  /** Composed so many times larger along each axis, and then halved. */
  oversize: z.union([z.literal(1), z.literal(2)]).default(1),
  /** Whether colours mix as they are seen (sRGB) or as light. */
  mixing: z.enum(['seen', 'light']).default('seen'),
  /** From the ground upwards. */
  layers: layerList.default([]),
  materials: z.array(tilingMaterial).max(64).default([]),
  /** Of a flat tile in the world; on a mesh it is not looked at. */
  tileWidth: z.number().positive().max(1e6).default(1000),
  /** Maps of the image set that layers go by, among the ticket's images. */
  measured: z
    .array(z.strictObject({ kind: z.enum(MAP_KIND_IDS), tile: tileNumber, picture }))
    .max(2000)
    .default([]),
});

export type LayersSettings = z.infer<typeof layersSettings>;
export type TilingMaterialOfTicket = LayersSettings['materials'][number];
