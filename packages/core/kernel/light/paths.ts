// Paths that are followed together, as they lie in a thread's room; mirrored by src/light/lightMemory.ts. Each list has
// an entry for each path, or for each ray or shadow ray of them.

/** Paths that a room has space for. */
export const PATHS: usize = 4096;

/** Of each path: the triangle it is at and the weights of its second and third corner, */
export let triangles: usize = 0;
export let weights: usize = 0;
/** the texel's sums that it adds to, the number of its sample and the seed of its texel, */
export let slots: usize = 0;
export let samples: usize = 0;
export let seeds: usize = 0;
/** the material it travels within (0 for none), the unit direction back to where it came from, */
export let within: usize = 0;
export let backs: usize = 0;
/** the unit direction in which it has left its first surface, the probability density of its last direction, */
export let firsts: usize = 0;
export let pdfs: usize = 0;
/** its throughput by lobes of its first surface, */
export let throughput: usize = 0;
/** and what its place is made of where that varies: 48 bytes (base colour, metallic, roughness, whether bent, normal). */
export let surfaces: usize = 0;
/** Of each ray: its path, and what the place it has met sends where that varies (of first places: by path). */
export let rayPaths: usize = 0;
export let sent: usize = 0;
/** Of each ray, or shadow ray, that may have met a hole: how much is there. */
export let opacities: usize = 0;
/** Of each shadow ray: its path, the light group, what it carries by lobes if nothing is in its way, */
export let shadowPaths: usize = 0;
export let shadowGroups: usize = 0;
export let pending: usize = 0;
/** and the triangle it goes to, with the weights of its corners, where what that sends varies and is told later. */
export let shadowTriangles: usize = 0;
export let shadowWeights: usize = 0;

/** What is left of it on its way, 0 to 1. */
export let shadowLeft: usize = 0;
/** Of each ray that goes on behind a hole: the ray, or shadow ray, that it is part of. */
export let behindOf: usize = 0;
/** Of each path: the width of what it sees of its place, over which pictures are filtered. */
export let widths: usize = 0;

/** The rays themselves, and what they have met: as the tracer takes and tells them. */
export let origins: usize = 0;
export let directions: usize = 0;
export let lengths: usize = 0;
export let hits: usize = 0;
export let hitDistances: usize = 0;
export let hitWeights: usize = 0;
export let shadowOrigins: usize = 0;
export let shadowDirections: usize = 0;
export let shadowLengths: usize = 0;
export let shadowHits: usize = 0;
export let shadowDistances: usize = 0;
export let shadowHitWeights: usize = 0;
/** Rays that go on behind holes. */
export let behindOrigins: usize = 0;
export let behindDirections: usize = 0;
export let behindLengths: usize = 0;
export let behindHits: usize = 0;
export let behindDistances: usize = 0;
export let behindWeights: usize = 0;

/** Lobes of the first surface that throughput is told apart by: vectors; the last one is light before any surface. */
export const LOBE_BYTES: usize = 64;
export const GLOSSY: usize = 16;
export const TRANSMITTED: usize = 32;
export const INCIDENT: usize = 48;

export const SURFACE_BYTES: usize = 48;
const VECTORS: usize = PATHS * 12 + 16;

let free: usize = 0;

function take(bytes: usize): usize {
  const at = free;
  free += PATHS * bytes;
  return at;
}

export function useRoom(room: usize): void {
  free = room;
  throughput = take(LOBE_BYTES);
  pending = take(LOBE_BYTES);
  surfaces = take(SURFACE_BYTES);
  sent = take(16);
  weights = take(16);
  shadowWeights = take(16);
  backs = take(24);
  firsts = take(24);
  pdfs = take(8);
  triangles = take(4);
  slots = take(4);
  samples = take(4);
  seeds = take(4);
  within = take(4);
  rayPaths = take(4);
  shadowPaths = take(4);
  shadowGroups = take(4);
  shadowTriangles = take(4);
  shadowLeft = take(4);
  opacities = take(4);
  behindOf = take(4);
  widths = take(4);
  origins = free;
  directions = origins + VECTORS;
  lengths = directions + VECTORS;
  hits = lengths + PATHS * 4;
  hitDistances = hits + PATHS * 4;
  hitWeights = hitDistances + PATHS * 4;
  shadowOrigins = hitWeights + PATHS * 8;
  shadowDirections = shadowOrigins + VECTORS;
  shadowLengths = shadowDirections + VECTORS;
  shadowHits = shadowLengths + PATHS * 4;
  shadowDistances = shadowHits + PATHS * 4;
  shadowHitWeights = shadowDistances + PATHS * 4;
  behindOrigins = shadowHitWeights + PATHS * 8;
  behindDirections = behindOrigins + VECTORS;
  behindLengths = behindDirections + VECTORS;
  behindHits = behindLengths + PATHS * 4;
  behindDistances = behindHits + PATHS * 4;
  behindWeights = behindDistances + PATHS * 4;
}

@inline
export function wholeOf(list: usize, k: u32): u32 {
  return load<u32>(list + (<usize>k << 2));
}

@inline
export function setWhole(list: usize, k: u32, value: u32): void {
  store<u32>(list + (<usize>k << 2), value);
}

@inline
export function floatOf(list: usize, k: u32): f64 {
  return <f64>load<f32>(list + (<usize>k << 2));
}

@inline
export function setFloat(list: usize, k: u32, value: f64): void {
  store<f32>(list + (<usize>k << 2), <f32>value);
}

@inline
export function setVector(list: usize, k: u32, x: f64, y: f64, z: f64): void {
  const at = list + <usize>k * 24;
  store<f64>(at, x);
  store<f64>(at, y, 8);
  store<f64>(at, z, 16);
}

/** In single precision, as rays have it. */
@inline
export function setRay(list: usize, k: u32, x: f64, y: f64, z: f64): void {
  const at = list + <usize>k * 12;
  store<f32>(at, <f32>x);
  store<f32>(at, <f32>y, 4);
  store<f32>(at, <f32>z, 8);
}
