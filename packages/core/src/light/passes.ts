/** Sums that are kept for each texel, and where they lie; r, g, b up to `unoccluded`, single numbers from there on. */
export const ACCUMULATED = {
  diffuseDirect: 0,
  diffuseIndirect: 3,
  reflectionDirect: 6,
  reflectionIndirect: 9,
  refraction: 12,
  emission: 15,
  /** Incident irradiance, direct and indirect. */
  irradiance: 18,
  /** Direct irradiance by light sampling, without and with occlusion. */
  unoccluded: 21,
  visible: 22,
  /** Unoccluded cosine-weighted directions. */
  sky: 23,
  /** Unit directions that irradiance comes from, weighed by its three colours in sum: x, y, z. */
  direction: 24,
} as const;

/** Numbers for each texel before those of the light groups, which have three each. */
export const GROUPS_AT = 27;

export const accumulatedPerTexel = (groups: number): number => GROUPS_AT + groups * 3;
