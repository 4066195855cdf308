// The bidirectional scattering distribution function of a surface: how it scatters light that leaves it one way, diffusely,
// at its roughness and, where it transmits, through it. What is lost between the mirrors of a rough surface is given back
// (Turquin, "Practical multiple scattering compensation for microfacet models", 2019), and what is reflected does not
// reach the colour below. All directions are in the surface's frame, with z upwards.
import { BLACK, grey, sumOf, times } from './colors';
import {
  fresnel,
  ggxDistribution,
  LEAST_ALPHA,
  mirrorX,
  mirrorY,
  mirrorZ,
  sampleVisibleNormal,
  schlickWeight,
  smithLambda,
} from './microfacet';
import { turnBy, turnCosine, turnSine } from './points';
import { albedoTable } from './scene';

/** Of the direction evaluated last: the function times the cosine, and its probability density. */
export let diffuse: v128 = f32x4(0, 0, 0, 0);
export let glossy: v128 = f32x4(0, 0, 0, 0);
export let pdf: f64 = 0;
/** The direction that was sampled last; below the surface for what is transmitted, 0 for none, */
export let sampledX: f64 = 0;
export let sampledY: f64 = 0;
export let sampledZ: f64 = 1;
/** of which this is left, over the probability that it was sampled. */
export let through: v128 = f32x4(0, 0, 0, 0);

/** Reflectance of a dielectric of index 1.5 that faces the light (Fresnel). */
const DIELECTRIC: f64 = 0.04;
/** Entries of the table of directional albedos, along the cosine and along the roughness. */
const SIDE: i32 = 32;

let base: v128 = f32x4(0, 0, 0, 0);
/** Diffuse reflectance; reflectance where the light faces the surface; what gives back what is lost between mirrors. */
let albedo: v128 = f32x4(0, 0, 0, 0);
let reflectance: v128 = f32x4(0, 0, 0, 0);
let compensation: v128 = f32x4(0, 0, 0, 0);
/** Reflectance where the light grazes it. */
let grazing: f64 = 1;
let alpha: f64 = 1;
/** What goes through of what is not reflected. */
let transmission: f64 = 0;
/** Index of refraction on this side over that beyond. */
let ratio: f64 = 1;
/** Probabilities of the two lobes beside the diffuse one. */
let glossyShare: f64 = 0;
let throughShare: f64 = 0;
let ownMasking: f64 = 0;
let ownX: f64 = 0;
let ownY: f64 = 0;
let ownZ: f64 = 1;

/**
 * @param color, metallic, roughness what the surface is made of, in the terms of glTF 2.0
 * @param specular how much of a dielectric's reflection there is: 1, or 0 for a surface that is nothing but diffuse
 * @param transmitted share of what a dielectric does not reflect that goes through
 * @param ior its index of refraction
 * @param x, y, z the direction in which light leaves, above the surface
 * @param isWithin whether that is within the body, which matters where it lets light through
 */
export function prepare(
  color: v128,
  metallic: f64,
  roughness: f64,
  specular: f64,
  transmitted: f64,
  ior: f64,
  x: f64,
  y: f64,
  z: f64,
  isWithin: bool,
): void {
  transmission = transmitted * (1 - metallic);
  ownX = x;
  ownY = y;
  ownZ = max<f64>(1e-4, z);
  alpha = max<f64>(LEAST_ALPHA, roughness * roughness);
  grazing = specular + (1 - specular) * metallic;
  albedo = times(color, 1 - metallic);
  reflectance = BLACK;
  throughShare = 0;
  glossyShare = 0;
  let reflected: f64 = 0;
  if (grazing > 0) {
    ownMasking = smithLambda(ownZ, alpha);
    directionalAlbedo(ownZ, roughness);
    const dielectric = DIELECTRIC * specular;
    const lost = 1 / (albedoScale + albedoBias) - 1;
    const covered = (dielectric * albedoScale + specular * albedoBias) * (1 + dielectric * lost);
    reflectance = f32x4.add(grey(dielectric * (1 - metallic)), times(color, metallic));
    compensation = f32x4.add(grey(1), times(reflectance, lost));
    const once = f32x4.add(times(reflectance, albedoScale), grey(grazing * albedoBias));
    reflected = sumOf(f32x4.mul(once, compensation));
    albedo = times(albedo, 1 - covered);
  }
  let below = sumOf(albedo);
  if (transmission > 0) {
    base = color;
    ratio = isWithin ? ior : 1 / ior;
    const mirrored = fresnel(ownZ, ratio);
    albedo = times(albedo, 1 - transmission);
    below *= 1 - transmission;
    compensation = grey(1);
    const passing = sumOf(base) * transmission * (1 - mirrored);
    reflected = max<f64>(reflected, 3 * mirrored);
    const sum = reflected + below + passing;
    throughShare = sum > 0 ? max<f64>(0.1, min<f64>(0.8, passing / sum)) : 0;
  }
  if (reflected === 0) return;
  // Whatever is there at all is also looked for.
  const share = below === 0 ? 1 : max<f64>(0.1, min<f64>(0.9, reflected / (reflected + below)));
  glossyShare = share * (1 - throughShare);
}

/** What light that comes from a direction above the surface becomes. */
export function evaluate(x: f64, y: f64, z: f64): void {
  glossy = BLACK;
  if (z <= 0) {
    diffuse = BLACK;
    pdf = 0;
    return;
  }
  const cosine = z / Math.PI;
  diffuse = times(albedo, cosine);
  pdf = (1 - glossyShare - throughShare) * cosine;
  if (glossyShare === 0) return;
  const sx = ownX + x;
  const sy = ownY + y;
  const sz = ownZ + z;
  const scale = 1 / sqrt<f64>(sx * sx + sy * sy + sz * sz);
  const facing = max<f64>(0, (ownX * sx + ownY * sy + ownZ * sz) * scale);
  const d = ggxDistribution(sz * scale, alpha);
  // D G / (4 cos cos) times the cosine of the light.
  const both = d / (4 * ownZ * (1 + ownMasking + smithLambda(z, alpha)));
  const white = schlickWeight(facing);
  let mirrored = f32x4.add(times(reflectance, 1 - white), grey(grazing * white));
  // Of what lets light through it is told exactly, or what goes on would not fit what comes back.
  if (transmission > 0) {
    mirrored = f32x4.add(times(mirrored, 1 - transmission), grey(fresnel(facing, ratio) * transmission));
  }
  glossy = times(f32x4.mul(mirrored, compensation), both);
  pdf += (glossyShare * d) / (4 * ownZ * (1 + ownMasking));
}

/**
 * Samples a direction in proportion to the function, roughly. Directions below the surface have their weight in `through`.
 * @param lobe, u, v from 0 to below 1
 */
export function sample(lobe: f64, u: f64, v: f64): void {
  if (lobe >= 1 - throughShare) {
    refract(u, v);
    return;
  }
  if (lobe < glossyShare) {
    sampleVisibleNormal(ownX, ownY, ownZ, alpha, u, v);
    const twice = 2 * (ownX * mirrorX + ownY * mirrorY + ownZ * mirrorZ);
    sampledX = twice * mirrorX - ownX;
    sampledY = twice * mirrorY - ownY;
    sampledZ = twice * mirrorZ - ownZ;
    return;
  }
  const radius = sqrt<f64>(u);
  turnBy(v);
  sampledX = radius * turnCosine;
  sampledY = radius * turnSine;
  sampledZ = sqrt<f64>(1 - u);
}

/** Through a mirror as it is seen, by Snell's law; nothing is left of what cannot leave. */
function refract(u: f64, v: f64): void {
  sampleVisibleNormal(ownX, ownY, ownZ, alpha, u, v);
  const cosine = ownX * mirrorX + ownY * mirrorY + ownZ * mirrorZ;
  const square = 1 - ratio * ratio * (1 - cosine * cosine);
  through = BLACK;
  sampledX = 0;
  sampledY = 0;
  sampledZ = 0;
  if (square <= 0) return;
  const along = ratio * cosine - sqrt<f64>(square);
  sampledX = along * mirrorX - ratio * ownX;
  sampledY = along * mirrorY - ratio * ownY;
  sampledZ = along * mirrorZ - ratio * ownZ;
  if (sampledZ >= 0) return;
  const seen = (1 + ownMasking) / (1 + ownMasking + smithLambda(-sampledZ, alpha));
  through = times(base, ((1 - fresnel(cosine, ratio)) * seen * transmission) / throughShare);
}

/** Directional albedo of single scattering at the last cosine and roughness: scale × F0 + bias. */
let albedoScale: f64 = 1;
let albedoBias: f64 = 0;

/** Looked up between the entries of the table, which lie closer where the light grazes. */
function directionalAlbedo(cosine: f64, roughness: f64): void {
  const c = sqrt<f64>(max<f64>(0, min<f64>(1, cosine))) * <f64>(SIDE - 1);
  const r = max<f64>(0, min<f64>(1, roughness)) * <f64>(SIDE - 1);
  const left = min<i32>(SIDE - 2, <i32>c);
  const top = min<i32>(SIDE - 2, <i32>r);
  const dx = c - <f64>left;
  const dy = r - <f64>top;
  const at = albedoTable + (<usize>(top * SIDE + left) << 3);
  albedoScale = between(at, dx, dy);
  albedoBias = between(at + 4, dx, dy);
}

@inline
function between(at: usize, dx: f64, dy: f64): f64 {
  const upper = <f64>load<f32>(at) * (1 - dx) + <f64>load<f32>(at, 8) * dx;
  const lower = <f64>load<f32>(at + SIDE * 8) * (1 - dx) + <f64>load<f32>(at + SIDE * 8, 8) * dx;
  return upper * (1 - dy) + lower * dy;
}

/** Entries of the table for one roughness. */
const TILTS: i32 = 48;
const AZIMUTHS: i32 = 12;

/**
 * Fills the table of directional albedos of single scattering, as (scale, bias) of F0 for each roughness and cosine, by
 * Schlick's split (common practice, no source), integrated over stratified visible normals.
 * @param table told two floats for each of 32 roughnesses and 32 cosines, roughness by roughness
 */
export function measureAlbedos(table: usize): void {
  for (let r = 0; r < SIDE; r++) {
    const rough = <f64>r / <f64>(SIDE - 1);
    const spread = max<f64>(LEAST_ALPHA, rough * rough);
    for (let c = 0; c < SIDE; c++) {
      const share = <f64>c / <f64>(SIDE - 1);
      const at = table + (<usize>(r * SIDE + c) << 3);
      measureAlbedo(at, max<f64>(1e-3, share * share), spread);
    }
  }
}

function measureAlbedo(at: usize, z: f64, spread: f64): void {
  const x = sqrt<f64>(1 - z * z);
  const own = smithLambda(z, spread);
  let scale: f64 = 0;
  let bias: f64 = 0;
  for (let i = 0; i < TILTS; i++) {
    // Denser towards the largest tilts, which are rare and lose most.
    const s = (<f64>i + 0.5) / <f64>TILTS;
    const weight = (2 * s) / <f64>TILTS / <f64>AZIMUTHS;
    for (let j = 0; j < AZIMUTHS; j++) {
      sampleVisibleNormal(x, 0, z, spread, 1 - s * s, (<f64>j + 0.5) / <f64>AZIMUTHS);
      const facing = x * mirrorX + z * mirrorZ;
      const out = 2 * facing * mirrorZ - z;
      if (out <= 0) continue;
      const seen = (1 + own) / (1 + own + smithLambda(out, spread));
      const white = schlickWeight(facing);
      scale += seen * (1 - white) * weight;
      bias += seen * white * weight;
    }
  }
  store<f32>(at, <f32>scale);
  store<f32>(at, <f32>bias, 4);
}
