// What rays have met: light that arrives is counted, and paths go on from where they are.
import { grey, isBlack, largestOf, times } from './colors';
import { exponential } from './exponential';
import { farSources, fromFar, light, lightGroup, lightPdf, pdfOfHit } from './lights';
import {
  backs,
  directions,
  firsts,
  floatOf,
  GLOSSY,
  hitDistances,
  hits,
  hitWeights,
  INCIDENT,
  LOBE_BYTES,
  pdfs,
  pending,
  rayPaths,
  samples,
  seeds,
  sent,
  setFloat,
  setVector,
  setWhole,
  shadowDirections,
  shadowGroups,
  shadowLeft,
  shadowPaths,
  throughput,
  TRANSMITTED,
  triangles,
  useRoom,
  weights,
  wholeOf,
  widths,
  within,
} from './paths';
import { draw, pointU } from './points';
import {
  ABSORBS,
  ABSORPTION,
  bounces,
  GROUP,
  hasFlag,
  materialOf,
  radianceOf,
  sampleShare,
  SENDS,
  SENDS_VARYING,
  useScene,
} from './scene';
import { countLight, countShadow } from './sums';

/** Path vertices before Russian roulette begins. */
const ROULETTE_DEPTH: u32 = 3;
/** A path ends by chance at least so often. */
const MOST_SHARE: f64 = 0.95;

/** Counts what unoccluded shadow rays carry. @param depth surfaces before those they leave */
export function countUnoccluded(scene: usize, room: usize, count: u32, depth: u32, counted: usize): void {
  useScene(scene);
  useRoom(room);
  for (let s: u32 = 0; s < count; s++) {
    const path = wholeOf(shadowPaths, s);
    const left = floatOf(shadowLeft, s);
    const lobes = pending + <usize>s * LOBE_BYTES;
    if (depth === 0) countShadow(counted, path, v128.load(lobes, INCIDENT), left);
    if (left === 0) continue;
    const radiance = grey(left);
    const group = wholeOf(shadowGroups, s);
    if (depth === 0) {
      const from = shadowDirections + <usize>s * 12;
      const x = <f64>load<f32>(from);
      countLight(counted, path, lobes, radiance, true, group, x, <f64>load<f32>(from, 4), <f64>load<f32>(from, 8));
    } else {
      countFromFirst(counted, path, lobes, radiance, false, group);
    }
  }
}

/** Counts light that has come to the first surface along the path. */
function countFromFirst(counted: usize, path: u32, lobes: usize, radiance: v128, isDirect: bool, group: u32): void {
  const first = firsts + <usize>path * 24;
  const x = load<f64>(first);
  countLight(counted, path, lobes, radiance, isDirect, group, x, load<f64>(first, 8), load<f64>(first, 16));
}

/** Extends paths to what their rays have met, and counts what is sent there. @returns how many paths go on */
export function extendPaths(scene: usize, room: usize, count: u32, depth: u32, counted: usize): u32 {
  useScene(scene);
  useRoom(room);
  let alive: u32 = 0;
  for (let r: u32 = 0; r < count; r++) {
    const path = wholeOf(rayPaths, r);
    if (!extend(r, path, depth, counted)) continue;
    setWhole(rayPaths, alive++, path);
  }
  return alive;
}

function extend(r: u32, path: u32, depth: u32, counted: usize): bool {
  const lobes = throughput + <usize>path * LOBE_BYTES;
  const pdf = load<f64>(pdfs + ((<usize>path) << 3));
  const direction = directions + <usize>r * 12;
  const dx = <f64>load<f32>(direction);
  const dy = <f64>load<f32>(direction, 4);
  const dz = <f64>load<f32>(direction, 8);
  const triangle = <i32>wholeOf(hits, r);
  if (triangle < 0) {
    for (let source: u32 = 0; source < farSources(); source++) {
      if (!fromFar(source, dx, dy, dz)) continue;
      const arriving = times(light, 1 / (1 + lightPdf / pdf));
      countFromFirst(counted, path, lobes, arriving, depth === 0, lightGroup);
    }
    return false;
  }
  const distance = <f64>load<f32>(hitDistances + ((<usize>r) << 2));
  const body = <usize>wholeOf(within, path);
  if (body !== 0 && hasFlag(body, ABSORBS)) absorb(lobes, body, distance);
  widen(path, distance, pdf);
  const material = materialOf(triangle);
  if (hasFlag(material, SENDS)) {
    const radiance = hasFlag(material, SENDS_VARYING) ? v128.load(sent + ((<usize>r) << 4)) : radianceOf(material);
    const other = isBlack(radiance) ? -1 : pdfOfHit(triangle, material, distance, dx, dy, dz);
    if (other >= 0) {
      const arriving = times(radiance, 1 / (1 + other / pdf));
      countFromFirst(counted, path, lobes, arriving, depth === 0, load<u32>(material, GROUP));
    }
  }
  if (depth >= bounces || !survives(path, depth, lobes)) return false;
  setWhole(triangles, path, triangle);
  const weight = hitWeights + ((<usize>r) << 3);
  const to = weights + ((<usize>path) << 4);
  store<f64>(to, <f64>load<f32>(weight));
  store<f64>(to, <f64>load<f32>(weight, 4), 8);
  setVector(backs, path, -dx, -dy, -dz);
  return true;
}

/**
 * Widens what a path sees by how far it has gone: one of n samples of density p stands for 1 / (n p) of the directions. So
 * pictures are seen the finer the more samples there are, and exactly in mirrors.
 */
function widen(path: u32, distance: f64, pdf: f64): void {
  const angle = min<f64>(1, sampleShare / sqrt<f64>(pdf));
  setFloat(widths, path, floatOf(widths, path) + distance * angle);
}

/** Absorption along a segment within a body (law of Beer and Lambert). */
function absorb(lobes: usize, body: usize, distance: f64): void {
  const rate = v128.load(body, ABSORPTION);
  let left = grey(exponential(<f64>f32x4.extract_lane(rate, 0) * distance));
  left = f32x4.replace_lane(left, 1, <f32>exponential(<f64>f32x4.extract_lane(rate, 1) * distance));
  left = f32x4.replace_lane(left, 2, <f32>exponential(<f64>f32x4.extract_lane(rate, 2) * distance));
  scaleAll(lobes, left);
}

function scaleAll(lobes: usize, by: v128): void {
  v128.store(lobes, f32x4.mul(v128.load(lobes), by));
  v128.store(lobes, f32x4.mul(v128.load(lobes, GLOSSY), by), GLOSSY);
  v128.store(lobes, f32x4.mul(v128.load(lobes, TRANSMITTED), by), TRANSMITTED);
  v128.store(lobes, f32x4.mul(v128.load(lobes, INCIDENT), by), INCIDENT);
}

/** Whether a path goes on, whose throughput then makes up for those that do not (Russian roulette). */
function survives(path: u32, depth: u32, lobes: usize): bool {
  const sum = f32x4.add(f32x4.add(v128.load(lobes), v128.load(lobes, GLOSSY)), v128.load(lobes, TRANSMITTED));
  let most = largestOf(sum);
  // A black surface is still lit.
  if (!(most > 0)) most = largestOf(v128.load(lobes, INCIDENT)) / Math.PI;
  if (!(most > 0)) return false;
  if (depth + 1 < ROULETTE_DEPTH) return true;
  const share = min<f64>(MOST_SHARE, most);
  draw(wholeOf(samples, path), wholeOf(seeds, path), depth, 3);
  if (pointU >= share) return false;
  scaleAll(lobes, grey(1 / share));
  return true;
}
