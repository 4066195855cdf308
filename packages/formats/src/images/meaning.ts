import { z } from 'zod';
import { AXIS_ORDERS, HEIGHT_UNITS, type MapConvention } from '@zographos/core/image';

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
