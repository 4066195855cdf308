// Surfaces that are there in part (opacity of glTF 2.0: cut-outs and veils). A ray passes through by chance, a shadow ray is
// weakened; both are cast anew from behind the hole, layer by layer, until none passes.
import {
  behindDirections,
  behindDistances,
  behindHits,
  behindLengths,
  behindOf,
  behindOrigins,
  behindWeights,
  directions,
  floatOf,
  hitDistances,
  hits,
  hitWeights,
  lengths,
  opacities,
  rayPaths,
  samples,
  seeds,
  setFloat,
  setRay,
  setWhole,
  shadowDirections,
  shadowDistances,
  shadowHits,
  shadowHitWeights,
  shadowLeft,
  shadowLengths,
  useRoom,
  wholeOf,
} from './paths';
import { chanceBelow } from './points';
import { HAS_HOLES, hasFlag, HOLES_VARY, materialOf, offset, OPACITY, useScene } from './scene';
import { faceX, faceY, faceZ, lookFrom, placeX, placeY, placeZ, standOn } from './surface';

let queued: u32 = 0;

/** How much of what a ray has met is there. @param told where that was told, if it differs from place to place */
function opacityOf(triangle: u32, told: u32): f64 {
  const material = materialOf(triangle);
  if (!hasFlag(material, HAS_HOLES)) return 1;
  return hasFlag(material, HOLES_VARY) ? floatOf(opacities, told) : <f64>load<f32>(material, OPACITY);
}

/** Queues what is left of a ray, from behind the place it has met. */
function goOn(part: u32, triangle: u32, weight: usize, direction: usize, left: f64): void {
  const wb = <f64>load<f32>(weight);
  const wc = <f64>load<f32>(weight, 4);
  const dx = <f64>load<f32>(direction);
  const dy = <f64>load<f32>(direction, 4);
  const dz = <f64>load<f32>(direction, 8);
  standOn(triangle, wb, wc);
  lookFrom(-dx, -dy, -dz);
  const r = queued++;
  setWhole(behindOf, r, part);
  setRay(behindOrigins, r, placeX - faceX * offset, placeY - faceY * offset, placeZ - faceZ * offset);
  setRay(behindDirections, r, dx, dy, dz);
  setFloat(behindLengths, r, left);
}

/**
 * Lets rays pass through holes.
 * @param count rays at the first layer; of later ones what went on behind holes and has been cast
 * @param layer holes before this
 * @returns how many go on behind holes, and are to be cast
 */
export function passRays(scene: usize, room: usize, count: u32, depth: u32, layer: u32): u32 {
  useScene(scene);
  useRoom(room);
  queued = 0;
  for (let k: u32 = 0; k < count; k++) {
    let r = k;
    if (layer > 0) {
      r = wholeOf(behindOf, k);
      const triangle = wholeOf(behindHits, k);
      setWhole(hits, r, triangle);
      if (<i32>triangle < 0) continue;
      setFloat(hitDistances, r, floatOf(hitDistances, r) + floatOf(behindDistances, k));
      store<f64>(hitWeights + (<usize>r << 3), load<f64>(behindWeights + (<usize>k << 3)));
    }
    const triangle = wholeOf(hits, r);
    if (<i32>triangle < 0) continue;
    const opacity = opacityOf(triangle, k);
    if (opacity >= 1) continue;
    const path = wholeOf(rayPaths, r);
    if (chanceBelow(opacity, wholeOf(samples, path), wholeOf(seeds, path), depth, layer)) continue;
    const left = floatOf(lengths, r) - floatOf(hitDistances, r);
    goOn(r, triangle, hitWeights + (<usize>r << 3), directions + <usize>r * 12, left);
  }
  return queued;
}

/**
 * Tells what is left of shadow rays on their way, and lets them pass through holes.
 * @param count shadow rays at the first layer; of later ones what went on behind holes and has been cast
 * @returns how many go on behind holes, and are to be cast
 */
export function passShadows(scene: usize, room: usize, count: u32, layer: u32): u32 {
  useScene(scene);
  useRoom(room);
  queued = 0;
  for (let k: u32 = 0; k < count; k++) {
    const s = layer > 0 ? wholeOf(behindOf, k) : k;
    const triangle = wholeOf(layer > 0 ? behindHits : shadowHits, k);
    if (layer === 0) setFloat(shadowLeft, s, 1);
    if (<i32>triangle < 0) continue;
    const left = floatOf(shadowLeft, s) * (1 - opacityOf(triangle, k));
    setFloat(shadowLeft, s, left);
    if (left <= 0) continue;
    const weight = (layer > 0 ? behindWeights : shadowHitWeights) + (<usize>k << 3);
    // How far it was from its origin to the last hole.
    const before = layer > 0 ? floatOf(shadowDistances, s) : 0;
    const travelled = before + floatOf(layer > 0 ? behindDistances : shadowDistances, k);
    setFloat(shadowDistances, s, travelled);
    goOn(s, triangle, weight, shadowDirections + <usize>s * 12, floatOf(shadowLengths, s) - travelled);
  }
  return queued;
}
