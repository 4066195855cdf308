// Microfacet reflection: the distribution of Trowbridge and Reitz (GGX) with Smith's masking, sampled by visible normals
// (Heitz, "Sampling the GGX Distribution of Visible Normals", 2018).

/** Least GGX roughness α: a spread of 0.06°. */
export const LEAST_ALPHA = 1e-3;

/** GGX normal distribution, for the cosine between half vector and normal. */
export function ggxDistribution(cosine: number, alpha: number): number {
  const a2 = alpha * alpha;
  const d = cosine * cosine * (a2 - 1) + 1;
  return a2 / (Math.PI * d * d);
}

/** Smith's Λ for the cosine of a direction. */
export function smithLambda(cosine: number, alpha: number): number {
  const c2 = cosine * cosine;
  if (c2 >= 1) return 0;
  return (Math.sqrt(1 + (alpha * alpha * (1 - c2)) / c2) - 1) / 2;
}

/**
 * A microfacet normal visible from a direction, both in the surface's frame with z along the normal.
 * @param u, v from 0 to 1 @param out told the unit normal
 */
export function sampleVisibleNormal(
  x: number,
  y: number,
  z: number,
  alpha: number,
  u: number,
  v: number,
  out: Float64Array,
): void {
  // Stretched so that the surface is one of roughness 1, of which a hemisphere is seen.
  let hx = alpha * x;
  let hy = alpha * y;
  let hz = z;
  const length = Math.sqrt(hx * hx + hy * hy + hz * hz);
  hx /= length;
  hy /= length;
  hz /= length;
  const flat = hx * hx + hy * hy;
  const inverse = flat > 0 ? 1 / Math.sqrt(flat) : 0;
  const [ax, ay] = flat > 0 ? [-hy * inverse, hx * inverse] : [1, 0];
  const bx = -hz * ay;
  const by = hz * ax;
  const bz = hx * ay - hy * ax;
  const radius = Math.sqrt(u);
  const turn = 2 * Math.PI * v;
  const t1 = radius * Math.cos(turn);
  const s = 0.5 * (1 + hz);
  const t2 = (1 - s) * Math.sqrt(Math.max(0, 1 - t1 * t1)) + s * radius * Math.sin(turn);
  const t3 = Math.sqrt(Math.max(0, 1 - t1 * t1 - t2 * t2));
  const nx = alpha * (t1 * ax + t2 * bx + t3 * hx);
  const ny = alpha * (t1 * ay + t2 * by + t3 * hy);
  const nz = Math.max(1e-9, t2 * bz + t3 * hz);
  const scale = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
  out[0] = nx * scale;
  out[1] = ny * scale;
  out[2] = nz * scale;
}

/**
 * What a smooth dielectric reflects of light without polarisation (Fresnel).
 * @param cosine of the light to the normal @param ratio of the indices: on the light's side over that beyond
 * @returns 1 for what cannot leave
 */
export function fresnel(cosine: number, ratio: number): number {
  const square = ratio * ratio * (1 - cosine * cosine);
  if (square >= 1) return 1;
  const beyond = Math.sqrt(1 - square);
  const upright = (ratio * cosine - beyond) / (ratio * cosine + beyond);
  const level = (cosine - ratio * beyond) / (cosine + ratio * beyond);
  return (upright * upright + level * level) / 2;
}

/** Weight of F90 in Schlick's approximation of Fresnel reflectance. */
export function schlickWeight(cosine: number): number {
  const c = Math.max(0, 1 - cosine);
  const c2 = c * c;
  return c2 * c2 * c;
}
