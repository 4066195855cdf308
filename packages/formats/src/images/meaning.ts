import { z } from 'zod';
import {
  AXIS_ORDERS,
  HEIGHT_UNITS,
  MAP_KIND_IDS,
  type ChannelPick,
  type ImagePacking,
  type MapConvention,
} from '@zographos/core/image';

/** How directions are written. */
export const normalSpace = z.strictObject({
  space: z.enum(['tangent', 'object']),
  y: z.enum(['up', 'down']),
  axes: z.enum(AXIS_ORDERS),
});

/** How heights are written: the surface is `mid`, and black to white spans so many units. */
export const heightConvention = z.strictObject({
  of: z.literal('height'),
  unit: z.enum(HEIGHT_UNITS),
  mid: z.number(),
  span: z.number().positive(),
});

/** How directions or heights are meant, as it is stored and travels. */
export const mapConvention = z.discriminatedUnion('of', [
  z.strictObject({ of: z.literal('direction'), ...normalSpace.shape }),
  heightConvention,
]) satisfies z.ZodType<MapConvention>;

export const colorSpace = z.enum(['srgb', 'linear']);

/** The values that are black and white. */
export const valueRange = z.tuple([z.number(), z.number()]).readonly();

/** What each channel of a file holds, from red to alpha. */
export const imagePacking = z
  .array(z.strictObject({ map: z.enum(MAP_KIND_IDS), channel: z.int().min(0).max(2), invert: z.boolean() }).nullable())
  .min(1)
  .max(4)
  .readonly() satisfies z.ZodType<ImagePacking>;

/** One channel of a file, from red to alpha, taken for a grey picture; or its colours without the alpha. */
export const channelPick = z.strictObject({
  channel: z.union([z.int().min(0).max(3), z.literal('rgb')]),
  invert: z.boolean().optional(),
}) satisfies z.ZodType<ChannelPick>;
