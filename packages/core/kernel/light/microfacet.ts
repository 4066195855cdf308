// Microfacet reflection: the distribution of Trowbridge and Reitz (GGX) with Smith's masking, sampled by visible normals
// (Heitz, "Sampling the GGX Distribution of Visible Normals", 2018).
import { turnBy, turnCosine, turnSine } from './points';

/** Least GGX roughness α: a spread of 0.06°. */
export const LEAST_ALPHA: f64 = 1e-3;

/** The unit normal of the mirror that was sampled last. */
export let mirrorX: f64 = 0;
export let mirrorY: f64 = 0;
export let mirrorZ: f64 = 1;

/** GGX normal distribution, for the cosine between half vector and normal. */
export function ggxDistribution(cosine: f64, alpha: f64): f64 {
  const a2 = alpha * alpha;
  const d = cosine * cosine * (a2 - 1) + 1;
  return a2 / (Math.PI * d * d);
}

/** Smith's Λ for the cosine of a direction. */
export function smithLambda(cosine: f64, alpha: f64): f64 {
  const c2 = cosine * cosine;
  if (c2 >= 1) return 0;
  return (sqrt<f64>(1 + (alpha * alpha * (1 - c2)) / c2) - 1) / 2;
}

/** Samples a microfacet normal visible from a direction, both in the surface's frame. @param u, v from 0 to below 1 */
export function sampleVisibleNormal(x: f64, y: f64, z: f64, alpha: f64, u: f64, v: f64): void {
  // Stretched so that the surface is one of roughness 1, of which a hemisphere is seen.
  let hx = alpha * x;
  let hy = alpha * y;
  const scale = 1 / sqrt<f64>(hx * hx + hy * hy + z * z);
  hx *= scale;
  hy *= scale;
  const hz = z * scale;
  const flat = hx * hx + hy * hy;
  const inverse = flat > 0 ? 1 / sqrt<f64>(flat) : 0;
  const ax = flat > 0 ? -hy * inverse : 1;
  const ay = hx * inverse;
  const bx = -hz * ay;
  const by = hz * ax;
  const bz = hx * ay - hy * ax;
  const radius = sqrt<f64>(u);
  turnBy(v);
  const t1 = radius * turnCosine;
  const s = 0.5 * (1 + hz);
  const t2 = (1 - s) * sqrt<f64>(max<f64>(0, 1 - t1 * t1)) + s * radius * turnSine;
  const t3 = sqrt<f64>(max<f64>(0, 1 - t1 * t1 - t2 * t2));
  const nx = alpha * (t1 * ax + t2 * bx + t3 * hx);
  const ny = alpha * (t1 * ay + t2 * by + t3 * hy);
  const nz = max<f64>(1e-9, t2 * bz + t3 * hz);
  const unit = 1 / sqrt<f64>(nx * nx + ny * ny + nz * nz);
  mirrorX = nx * unit;
  mirrorY = ny * unit;
  mirrorZ = nz * unit;
}

/**
 * What a smooth dielectric reflects of light without polarisation (Fresnel).
 * @param cosine of the light to the normal
 * @param ratio of the indices: on the light's side over that beyond
 * @returns 1 for what cannot leave
 */
export function fresnel(cosine: f64, ratio: f64): f64 {
  const square = ratio * ratio * (1 - cosine * cosine);
  if (square >= 1) return 1;
  const beyond = sqrt<f64>(1 - square);
  const upright = (ratio * cosine - beyond) / (ratio * cosine + beyond);
  const level = (cosine - ratio * beyond) / (cosine + ratio * beyond);
  return (upright * upright + level * level) / 2;
}

/** Weight of F90 in Schlick's approximation of Fresnel reflectance. */
export function schlickWeight(cosine: f64): f64 {
  const c = max<f64>(0, 1 - cosine);
  const c2 = c * c;
  return c2 * c2 * c;
}
