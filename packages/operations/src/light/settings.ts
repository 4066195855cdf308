import { z } from 'zod';
import { SKIES } from '@zographos/core/light';
import { WORN_KINDS } from '../scene/wornMaps.ts';
import { mapSize, tileNumber } from '../bake/settings.ts';
import { colorText } from '../colorText.ts';
import { FIRST_TILE } from '@zographos/core/uv';
import { groupNames } from './scene/lightGroups.ts';
import { LIGHT_PASSES } from './options.ts';

const vector = z.tuple([z.number(), z.number(), z.number()]);
const strength = z.tuple([z.number().min(0).max(1e9), z.number().min(0).max(1e9), z.number().min(0).max(1e9)]);

const grouped = {
  /** What it is called. */
  name: z.string().trim().min(1).max(60).optional(),
  /** The light group it is counted in; left out, one of its own. */
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
  z.strictObject({
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
  z.strictObject({
    ...grouped,
    kind: z.literal('point'),
    position: vector,
    /** Radiant intensity. */
    strength,
  }),
  z.strictObject({ ...grouped, kind: z.literal('sphere'), position: vector, radius: length, strength }),
  z.strictObject({ ...grouped, kind: z.literal('disk'), position: vector, target: vector, radius: length, strength }),
  z.strictObject({
    ...grouped,
    kind: z.literal('rectangle'),
    position: vector,
    target: vector,
    width: length,
    height: length,
    strength,
  }),
  z.strictObject({
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

/** Groups of light that one run tells apart, the environment and surfaces that send light among them. */
export const MAX_GROUPS = 8;

const everySetting = z.strictObject({
  size: mapSize,
  /** The UDIM tiles to light: those named, or all in which there are islands. */
  tiles: z.union([z.literal('all'), z.array(tileNumber).min(1)]).default([FIRST_TILE]),
  passes: z
    .array(z.enum(LIGHT_PASSES))
    .min(1, 'Choose at least one pass.')
    .refine((passes) => new Set(passes).size === passes.length, 'Each pass can be asked for once.'),
  /** What meshes are made of: their own materials, or the maps that are filled in below where they have some. */
  materials: z.enum(['mesh', 'maps']).default('mesh'),
  /** The maps that meshes wear: the number of the mesh among receivers and sources, and of the picture. */
  worn: z
    .array(
      z.strictObject({
        mesh: z.int().min(0),
        uvSet: z.int().min(0).max(63),
        kind: z.enum(WORN_KINDS),
        tile: tileNumber,
        picture: z.int().min(0),
      }),
    )
    .default([]),
  samples: z.int().min(1).max(65536).default(256),
  /** Fewer will do once the noise is this share of the mean, or below. */
  noise: z.number().min(0).max(1).default(0),
  /** Surfaces between the first and a light, at most. */
  bounces: z.int().min(0).max(1024).default(8),
  lights: z.array(lightSchema).max(64).default([]),
  /** A sky made here, or the picture that is given. */
  environment: z
    .discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('none') }),
      z.strictObject({ kind: z.enum(SKIES), elevation: z.number().min(0).max(90).default(45) }),
      /** The first picture of the ticket. */
      z.strictObject({ kind: z.literal('picture') }),
    ])
    .default({ kind: 'none' }),
  /** Times what the environment sends. */
  environmentStrength: z.number().min(0).max(1e6).default(1),
  /** Degrees that it is turned by about the axis that is up, clockwise seen from above. */
  environmentTurn: z.number().min(-360).max(360).default(0),
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
  padding: z.union([z.literal('all'), z.int().min(0).max(16384)]).default(16),
  /** What stands beyond the padding; left out, black. */
  background: colorText.nullable().optional(),
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(0),
});

/** Everything an artist can say about a bake of light. */
export const lightSettings = everySetting.superRefine(({ passes, lights }, context) => {
  const groups = groupNames({ lights });
  if (!passes.includes('groups') || groups.length <= MAX_GROUPS) return;
  const message = `at most ${MAX_GROUPS} light groups are told apart, and there are ${groups.length}: ${groups.join(', ')}. Give lights that belong together the same group.`;
  context.addIssue({ code: 'custom', path: ['lights'], message });
});

export type LightSettings = z.infer<typeof lightSettings>;
