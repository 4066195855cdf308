// Samples lights by their power: environment and suns, points and emissive triangles.
import { BLACK, isBlack, times } from './colors';
import { basisSX, basisSY, basisSZ, basisTX, basisTY, basisTZ, orthonormalBasis } from './basis';
import { sampleSky, skyPdf, skyRadiance, skyTexel, skyX, skyY, skyZ } from './environment';
import { pointU, pointV, turnBy, turnCosine, turnSine } from './points';
import {
  DENSITY,
  EMITTER_BYTES,
  emitterCount,
  emitterGuide,
  emitters,
  emitterSums,
  GROUP,
  hasFlag,
  materialOf,
  ONE_SIDED,
  OPACITY,
  POINT_BYTES,
  pointCount,
  points,
  radianceOf,
  SENDS_VARYING,
  shareCount,
  shares,
  sky,
  skyGroup,
  SUN_BYTES,
  sunCount,
  suns,
} from './scene';
import { facing } from './surface';

/** Of the last sample: unit direction, distance (0 for endless), and radiance. */
export let lightX: f64 = 0;
export let lightY: f64 = 0;
export let lightZ: f64 = 1;
export let lightDistance: f64 = 0;
export let light: v128 = f32x4(0, 0, 0, 0);
/** Probability density by solid angle; 0 for a light without size, whose `light` is irradiance over its probability. */
export let lightPdf: f64 = 0;
export let lightGroup: u32 = 0;
/** The triangle that is met, and where; below 0 where none is, or all of it sends the same. */
export let lightTriangle: i32 = -1;
export let lightB: f64 = 0;
export let lightC: f64 = 0;

@inline
function shareOf(source: u32): f64 {
  const at = shares + (<usize>source << 3);
  return load<f64>(at, 8) - load<f64>(at);
}

/** The entry of ever larger numbers, the first of which is 0, within which a number lies. */
function placeIn(sums: usize, count: u32, value: f64): u32 {
  let low: u32 = 0;
  let high = count - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (load<f64>(sums + (<usize>middle << 3), 8) > value) high = middle;
    else low = middle + 1;
  }
  return low;
}

/**
 * Samples a light for a place by the point that was drawn last.
 * @param which from 0 to below 1: which light
 * @returns whether anything can come from there
 */
export function sampleLight(which: f64, x: f64, y: f64, z: f64): bool {
  lightTriangle = -1;
  const all = load<f64>(shares + (<usize>shareCount << 3));
  if (!(all > 0)) return false;
  const source = placeIn(shares, shareCount, min<f64>(which, all * (1 - 1e-12)));
  const share = shareOf(source);
  if (share <= 0) return false;
  if (source === 0) return sampleEnvironment(share);
  if (source <= sunCount) return sampleSun(suns + <usize>(source - 1) * SUN_BYTES, share);
  if (source <= sunCount + pointCount) {
    return samplePoint(points + <usize>(source - sunCount - 1) * POINT_BYTES, share, x, y, z);
  }
  return sampleEmitter((which - load<f64>(shares + (<usize>source << 3))) / share, share, x, y, z);
}

function sampleEnvironment(share: f64): bool {
  const texel = sampleSky();
  lightX = skyX;
  lightY = skyY;
  lightZ = skyZ;
  light = skyRadiance(texel);
  lightPdf = share * skyPdf(texel);
  lightDistance = 0;
  lightGroup = skyGroup;
  return lightPdf > 0;
}

function sampleSun(sun: usize, share: f64): bool {
  const x = load<f64>(sun);
  const y = load<f64>(sun, 8);
  const z = load<f64>(sun, 16);
  const cosine = load<f64>(sun, 24);
  const pdf = load<f64>(sun, 32);
  lightDistance = 0;
  lightGroup = load<u32>(sun, 40);
  light = v128.load(sun, 48);
  lightPdf = share * pdf;
  if (pdf === 0) {
    light = times(light, 1 / share);
    lightX = x;
    lightY = y;
    lightZ = z;
    return true;
  }
  orthonormalBasis(x, y, z);
  const along = 1 - pointU * (1 - cosine);
  const aside = sqrt<f64>(max<f64>(0, 1 - along * along));
  turnBy(pointV);
  const a = aside * turnCosine;
  const b = aside * turnSine;
  lightX = x * along + basisTX * a + basisSX * b;
  lightY = y * along + basisTY * a + basisSY * b;
  lightZ = z * along + basisTZ * a + basisSZ * b;
  return true;
}

/** Aims at a place. @returns the square of its distance; 0 if it is the same */
function aimAt(tx: f64, ty: f64, tz: f64, x: f64, y: f64, z: f64): f64 {
  const dx = tx - x;
  const dy = ty - y;
  const dz = tz - z;
  const square = dx * dx + dy * dy + dz * dz;
  lightDistance = sqrt<f64>(square);
  const scale = square > 0 ? 1 / lightDistance : 0;
  lightX = dx * scale;
  lightY = dy * scale;
  lightZ = dz * scale;
  return square;
}

function samplePoint(point: usize, share: f64, x: f64, y: f64, z: f64): bool {
  const square = aimAt(load<f64>(point), load<f64>(point, 8), load<f64>(point, 16), x, y, z);
  if (square === 0) return false;
  let scale = 1 / square / share;
  if (load<u32>(point, 80) !== 0) {
    const along = -(lightX * load<f64>(point, 24) + lightY * load<f64>(point, 32) + lightZ * load<f64>(point, 40));
    const full = load<f64>(point, 48);
    const none = load<f64>(point, 56);
    const hard: f64 = along >= none ? 1 : 0;
    const t = full > none ? max<f64>(0, min<f64>(1, (along - none) / (full - none))) : hard;
    scale *= t * t * (3 - 2 * t);
  }
  light = times(v128.load(point, 64), scale);
  lightPdf = 0;
  lightGroup = load<u32>(point, 84);
  return scale > 0;
}

function sampleEmitter(which: f64, share: f64, x: f64, y: f64, z: f64): bool {
  let entry = load<u32>(emitterGuide + (<usize>(<u32>(which * <f64>emitterCount)) << 2));
  while (entry < emitterCount - 1 && load<f64>(emitterSums + (<usize>entry << 3), 8) <= which) entry++;
  const emitter = emitters + <usize>entry * EMITTER_BYTES;
  const root = sqrt<f64>(pointU);
  lightB = root * (1 - pointV);
  lightC = root * pointV;
  if (aimAt(onEmitter(emitter, 0), onEmitter(emitter, 4), onEmitter(emitter, 8), x, y, z) === 0) return false;
  const triangle = load<u32>(emitter, 48);
  const material = materialOf(triangle);
  const cosine =
    lightX * <f64>load<f32>(emitter, 36) + lightY * <f64>load<f32>(emitter, 40) + lightZ * <f64>load<f32>(emitter, 44);
  lightPdf = emitterPdf(share, cosine, material, lightDistance);
  if (!(lightPdf > 0 && lightPdf < Infinity)) return false;
  // A place that is not there sends nothing.
  light = times(radianceOf(material), <f64>load<f32>(material, OPACITY));
  if (hasFlag(material, SENDS_VARYING)) lightTriangle = triangle;
  lightGroup = load<u32>(material, GROUP);
  return true;
}

/** One coordinate of the place that was sampled. */
@inline
function onEmitter(emitter: usize, axis: usize): f64 {
  return (
    <f64>load<f32>(emitter + axis) +
    <f64>load<f32>(emitter + axis, 12) * lightB +
    <f64>load<f32>(emitter + axis, 24) * lightC
  );
}

/** Probability density by solid angle of a place on an emissive triangle; below 0 where it sends nothing this way. */
function emitterPdf(share: f64, cosine: f64, material: usize, distance: f64): f64 {
  if (cosine > 0 && hasFlag(material, ONE_SIDED)) return -1;
  return (share * <f64>load<f32>(material, DENSITY) * distance * distance) / abs<f64>(cosine);
}

/**
 * Probability density, by solid angle, with which light sampling would have found a triangle that a ray has hit.
 * @returns below 0 where it sends nothing this way
 */
export function pdfOfHit(triangle: u32, material: usize, distance: f64, x: f64, y: f64, z: f64): f64 {
  if (emitterCount === 0) return 0;
  return emitterPdf(shareOf(shareCount - 1), facing(triangle, x, y, z), material, distance);
}

/** The environment and all suns. */
@inline
export function farSources(): u32 {
  return 1 + sunCount;
}

/** Radiance of one distant source in a direction, with the probability density of light sampling there. */
export function fromFar(source: u32, x: f64, y: f64, z: f64): bool {
  light = BLACK;
  if (source === 0) {
    if (sky === 0) return false;
    const texel = skyTexel(x, y, z);
    light = skyRadiance(texel);
    lightPdf = shareOf(0) * skyPdf(texel);
    lightGroup = skyGroup;
    return !isBlack(light);
  }
  const sun = suns + <usize>(source - 1) * SUN_BYTES;
  const pdf = load<f64>(sun, 32);
  const cosine = x * load<f64>(sun) + y * load<f64>(sun, 8) + z * load<f64>(sun, 16);
  if (pdf === 0 || cosine < load<f64>(sun, 24)) return false;
  light = v128.load(sun, 48);
  lightPdf = shareOf(source) * pdf;
  lightGroup = load<u32>(sun, 40);
  return true;
}
