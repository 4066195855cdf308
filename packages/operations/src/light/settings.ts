import { z } from 'zod';
import { SKIES } from '@zographos/core/light';

const vector = z.tuple([z.number(), z.number(), z.number()]);
const strength = z.tuple([z.number().min(0).max(1e9), z.number().min(0).max(1e9), z.number().min(0).max(1e9)]);

/** The light group it is counted in; left out, one of its own. */
const grouped = {
  group: z
    .string()
    .regex(
      /^[\p{L}\p{N}_-]{1,60}$/u,
      'a light group is called by letters, digits, - and _, for files are named after it.',
    )
    .optional(),
};
const length = z.number().positive().max(1e9);

/** A light that is placed: a sun by where it stands in the sky, a lamp by its place. */
export const lightSchema = z.discriminatedUnion('kind', [
  z.object({
    ...grouped,
    kind: z.literal('sun'),
    /** Degrees above the horizon, and clockwise from north. */
    elevation: z.number().min(-90).max(90),
    azimuth: z.number().min(-360).max(360),
    /** Degrees that it is seen under. */
    angle: z.number().min(0).max(180),
    /** Irradiance of a surface that faces it. */
    strength,
  }),
  z.object({
    ...grouped,
    kind: z.literal('point'),
    position: vector,
    /** Radiant intensity. */
    strength,
  }),
  z.object({ ...grouped, kind: z.literal('sphere'), position: vector, radius: length, strength }),
  z.object({ ...grouped, kind: z.literal('disk'), position: vector, target: vector, radius: length, strength }),
  z.object({
    ...grouped,
    kind: z.literal('rectangle'),
    position: vector,
    target: vector,
    width: length,
    height: length,
    strength,
  }),
  z.object({
    ...grouped,
    kind: z.literal('spot'),
    position: vector,
    target: vector,
    /** Degrees of the whole cone, and the share of it over which it fades. */
    angle: z.number().min(0.1).max(180),
    softness: z.number().min(0).max(1).default(0.2),
    /** Radiant intensity along its axis. */
    strength,
  }),
]);
export type PlacedLight = z.infer<typeof lightSchema>;

/** Pictures that one run can make of light. */
export const LIGHT_PASSES = [
  'combined',
  'direct',
  'indirect',
  'diffuse',
  'diffuse-direct',
  'diffuse-indirect',
  'reflection',
  'refraction',
  'emission',
  'shadow',
  'sky',
  'irradiance',
  /** One for each light group. */
  'groups',
] as const;
export type LightPass = (typeof LIGHT_PASSES)[number];

export const lightSettings = z.object({
  size: z.object({ width: z.int().min(16).max(16384), height: z.int().min(16).max(16384) }),
  passes: z.array(z.enum(LIGHT_PASSES)).min(1),
  samples: z.int().min(1).max(65536).default(256),
  /** Fewer will do once the noise is this share of the mean, or below. */
  noise: z.number().min(0).max(1).default(0),
  /** Surfaces between the first and a light, at most. */
  bounces: z.int().min(0).max(1024).default(8),
  lights: z.array(lightSchema).max(64).default([]),
  /** A sky made here, or the picture that is given. */
  environment: z
    .discriminatedUnion('kind', [
      z.object({ kind: z.literal('none') }),
      z.object({ kind: z.enum(SKIES), elevation: z.number().min(0).max(90).default(45) }),
      z.object({ kind: z.literal('picture') }),
    ])
    .default({ kind: 'none' }),
  /** Times what the environment sends. */
  environmentStrength: z.number().min(0).max(1e6).default(1),
  up: z.enum(['x', 'y', 'z']).default('y'),
  /** Each place along its own normal, or all from one eye. */
  seenFrom: z.union([z.literal('normal'), vector]).default('normal'),
  faces: z.enum(['front', 'back', 'both']).default('front'),
  /** How much noise is taken out over the surface, 0 to 1. */
  denoise: z.number().min(0).max(1).default(0),
  /** The part of the layout that fills the pictures: left and lower end, width and height. */
  uvWindow: z
    .tuple([z.number(), z.number(), z.number().min(1e-6).max(1e6), z.number().min(1e-6).max(1e6)])
    .default([0, 0, 1, 1]),
  uvSet: z.int().min(0).max(15).default(0),
  padding: z.union([z.literal('all'), z.int().min(0).max(4096)]).default(16),
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(0),
});
export type LightSettings = z.infer<typeof lightSettings>;
