// What is counted for each texel: doubles, in the order of src/light/passes.ts.
import { addColor, isBlack, sumOf } from './colors';
import { GLOSSY, INCIDENT, slots, TRANSMITTED, wholeOf } from './paths';
import { stride } from './scene';

const DIFFUSE: usize = 0;
/** From a direct one to the indirect one behind it. */
const INDIRECT: usize = 3 * 8;
const REFLECTION: usize = 6 * 8;
const REFRACTION: usize = 12 * 8;
const EMISSION: usize = 15 * 8;
const IRRADIANCE: usize = 18 * 8;
const UNOCCLUDED: usize = 21 * 8;
const VISIBLE: usize = 22 * 8;
const SKY: usize = 23 * 8;
const DIRECTION: usize = 24 * 8;
const GROUPS: usize = 27 * 8;

/** Where the sums of a path's texel lie. */
@inline
function sumsOf(counted: usize, path: u32): usize {
  return counted + ((<usize>wholeOf(slots, path) * stride) << 3);
}

@inline
function addTo(at: usize, value: f64): void {
  store<f64>(at, load<f64>(at) + value);
}

export function countEmission(counted: usize, path: u32, group: u32, radiance: v128): void {
  const at = sumsOf(counted, path);
  addColor(at + EMISSION, radiance);
  addColor(at + GROUPS + <usize>group * 24, radiance);
}

/** @param open how much of it is, 0 to 1 */
export function countSky(counted: usize, path: u32, open: f64): void {
  addTo(sumsOf(counted, path) + SKY, open);
}

/** Counts what falls straight from a light, and what of it arrives: 0 to 1. */
export function countShadow(counted: usize, path: u32, incident: v128, left: f64): void {
  const at = sumsOf(counted, path);
  const sum = sumOf(incident);
  addTo(at + UNOCCLUDED, sum);
  addTo(at + VISIBLE, sum * left);
}

/**
 * Adds radiance to the sums of its passes.
 * @param lobes what is left of it by each lobe of the path's first surface
 * @param isDirect whether it left a light without a bounce
 * @param x, y, z where it comes from, as the first surface sees it
 */
export function countLight(
  counted: usize,
  path: u32,
  lobes: usize,
  radiance: v128,
  isDirect: bool,
  group: u32,
  x: f64,
  y: f64,
  z: f64,
): void {
  const at = sumsOf(counted, path);
  const byWay = at + (isDirect ? 0 : INDIRECT);
  const byGroup = at + GROUPS + <usize>group * 24;
  countLobe(byWay + DIFFUSE, byGroup, f32x4.mul(v128.load(lobes), radiance));
  countLobe(byWay + REFLECTION, byGroup, f32x4.mul(v128.load(lobes, GLOSSY), radiance));
  countLobe(at + REFRACTION, byGroup, f32x4.mul(v128.load(lobes, TRANSMITTED), radiance));
  const falling = f32x4.mul(v128.load(lobes, INCIDENT), radiance);
  addColor(at + IRRADIANCE, falling);
  const incident = sumOf(falling);
  addTo(at + DIRECTION, incident * x);
  addTo(at + DIRECTION + 8, incident * y);
  addTo(at + DIRECTION + 16, incident * z);
}

@inline
function countLobe(pass: usize, group: usize, radiance: v128): void {
  if (isBlack(radiance)) return;
  addColor(pass, radiance);
  addColor(group, radiance);
}

