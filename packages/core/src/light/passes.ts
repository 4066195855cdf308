/** What is counted at each texel, and where it lies among its numbers; all but the last three are r, g, b. */
export const COUNTED = {
  diffuseDirect: 0,
  diffuseIndirect: 3,
  reflectionDirect: 6,
  reflectionIndirect: 9,
  emission: 12,
  /** What falls on the surface, direct and not. */
  irradiance: 15,
  /** Direct light picked at lamps, as if nothing stood between, and what of it arrives. */
  unblocked: 18,
  arriving: 19,
  /** Directions, by their cosine, in which there is nothing. */
  sky: 20,
} as const;

/** Numbers for each texel before those of the light groups, which have three each. */
export const GROUPS_AT = 21;

export const countedPerTexel = (groups: number): number => GROUPS_AT + groups * 3;
