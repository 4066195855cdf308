// Lays paths out from their first surface, and asks how much of the surroundings is open there.
import { basisSX, basisSY, basisSZ, basisTX, basisTY, basisTZ, orthonormalBasis } from './basis';
import { draw, pointU, pointV, turnBy, turnCosine, turnSine } from './points';
import {
  backs,
  floatOf,
  INCIDENT,
  LOBE_BYTES,
  GLOSSY,
  rayPaths,
  samples,
  seeds,
  sent,
  setRay,
  setVector,
  setWhole,
  shadowDirections,
  shadowLeft,
  shadowLengths,
  shadowOrigins,
  shadowPaths,
  throughput,
  TRANSMITTED,
  triangles,
  useRoom,
  weights,
  wholeOf,
  within,
} from './paths';
import {
  eyeX,
  eyeY,
  eyeZ,
  faces,
  GROUP,
  hasFlag,
  materialOf,
  offset,
  radianceOf,
  reach,
  seenFrom,
  SENDS,
  SENDS_VARYING,
  useScene,
} from './scene';
import { countEmission, countSky } from './sums';
import {
  faceX,
  faceY,
  faceZ,
  isBack,
  lookFrom,
  normalX,
  normalY,
  normalZ,
  placeX,
  placeY,
  placeZ,
  standOn,
} from './surface';

const FRONT: u32 = 0;
const BACK: u32 = 1;
const BOTH: u32 = 2;
const FROM_EYE: u32 = 1;

/** Places a path at its first surface again. */
function standAt(path: u32): void {
  const at = weights + ((<usize>path) << 4);
  const wb = load<f64>(at);
  const wc = load<f64>(at, 8);
  standOn(wholeOf(triangles, path), wb, wc);
}

/** Turns a path towards the eye. @returns whether that sees the side it is to */
function look(path: u32): bool {
  standAt(path);
  if (seenFrom !== FROM_EYE) {
    const side: f64 = faces === BACK ? -1 : 1;
    setVector(backs, path, normalX * side, normalY * side, normalZ * side);
    return true;
  }
  const x = eyeX - placeX;
  const y = eyeY - placeY;
  const z = eyeZ - placeZ;
  const length = sqrt<f64>(x * x + y * y + z * z);
  const scale = length > 0 ? 1 / length : 1;
  setVector(backs, path, x * scale, y * scale, z * scale);
  lookFrom(x, y, z);
  return faces === BOTH || isBack === (faces !== FRONT);
}

/**
 * Begins paths, whose triangles, weights, slots, samples and seeds are laid out, and counts what their first places send.
 * @param counted what is added to
 * @returns how many go on: those whose first place is seen
 */
export function beginPaths(scene: usize, room: usize, count: u32, counted: usize): u32 {
  useScene(scene);
  useRoom(room);
  let seen: u32 = 0;
  for (let path: u32 = 0; path < count; path++) {
    if (!look(path)) continue;
    setWhole(rayPaths, seen++, path);
    setWhole(within, path, 0);
    const lobes = throughput + <usize>path * LOBE_BYTES;
    const white = f32x4(1, 1, 1, 0);
    v128.store(lobes, white);
    v128.store(lobes, white, GLOSSY);
    v128.store(lobes, white, TRANSMITTED);
    v128.store(lobes, white, INCIDENT);
    const material = materialOf(wholeOf(triangles, path));
    if (!hasFlag(material, SENDS)) continue;
    const radiance = hasFlag(material, SENDS_VARYING) ? v128.load(sent + ((<usize>path) << 4)) : radianceOf(material);
    countEmission(counted, path, load<u32>(material, GROUP), radiance);
  }
  return seen;
}

/** Queues one cosine-weighted shadow ray for each of the first paths: what it meets is not the sky. */
export function aimAtSky(scene: usize, room: usize, count: u32): void {
  useScene(scene);
  useRoom(room);
  for (let r: u32 = 0; r < count; r++) {
    const path = wholeOf(rayPaths, r);
    setWhole(shadowPaths, r, path);
    standAt(path);
    const back = backs + <usize>path * 24;
    lookFrom(load<f64>(back), load<f64>(back, 8), load<f64>(back, 16));
    orthonormalBasis(normalX, normalY, normalZ);
    draw(wholeOf(samples, path), wholeOf(seeds, path), 0, 3);
    const radius = sqrt<f64>(pointU);
    const up = sqrt<f64>(1 - pointU);
    turnBy(pointV);
    const a = radius * turnCosine;
    const b = radius * turnSine;
    setRay(
      shadowDirections,
      r,
      basisTX * a + basisSX * b + normalX * up,
      basisTY * a + basisSY * b + normalY * up,
      basisTZ * a + basisSZ * b + normalZ * up,
    );
    setRay(shadowOrigins, r, placeX + faceX * offset, placeY + faceY * offset, placeZ + faceZ * offset);
    store<f32>(shadowLengths + ((<usize>r) << 2), <f32>reach);
  }
}

/** Counts what has come through of the shadow rays as sky. */
export function countOpenSky(scene: usize, room: usize, count: u32, counted: usize): void {
  useScene(scene);
  useRoom(room);
  for (let r: u32 = 0; r < count; r++) {
    const open = floatOf(shadowLeft, r);
    if (open > 0) countSky(counted, wholeOf(shadowPaths, r), open);
  }
}
