/** What is counted at each texel, and where it lies among its numbers; all but those from `unblocked` on are r, g, b. */
export const COUNTED = {
  diffuseDirect: 0,
  diffuseIndirect: 3,
  reflectionDirect: 6,
  reflectionIndirect: 9,
  refraction: 12,
  emission: 15,
  /** What falls on the surface, direct and not. */
  irradiance: 18,
  /** Direct light picked at lamps, as if nothing stood between, and what of it arrives. */
  unblocked: 21,
  arriving: 22,
  /** Directions, by their cosine, in which there is nothing. */
  sky: 23,
} as const;

/** Numbers for each texel before those of the light groups, which have three each. */
export const GROUPS_AT = 24;

export const countedPerTexel = (groups: number): number => GROUPS_AT + groups * 3;
