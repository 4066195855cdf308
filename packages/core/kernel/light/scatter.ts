// Shades path vertices: samples one light and queues its shadow ray, samples the surface and queues the next ray.
import { basisSX, basisSY, basisSZ, basisTX, basisTY, basisTZ, orthonormalBasis } from './basis';
import { diffuse, evaluate, glossy, pdf, prepare, sample, sampledX, sampledY, sampledZ, through } from './bsdf';
import { BLACK, grey, isBlack, times } from './colors';
import {
  light,
  lightB,
  lightC,
  lightDistance,
  lightGroup,
  lightPdf,
  lightTriangle,
  lightX,
  lightY,
  lightZ,
  sampleLight,
} from './lights';
import {
  backs,
  directions,
  firsts,
  floatOf,
  GLOSSY,
  INCIDENT,
  lengths,
  LOBE_BYTES,
  origins,
  pdfs,
  pending,
  rayPaths,
  samples,
  seeds,
  setRay,
  setVector,
  setWhole,
  shadowDirections,
  shadowGroups,
  shadowLengths,
  shadowOrigins,
  shadowPaths,
  shadowTriangles,
  shadowWeights,
  SURFACE_BYTES,
  surfaces,
  throughput,
  TRANSMITTED,
  triangles,
  useRoom,
  weights,
  wholeOf,
  widths,
  within,
} from './paths';
import { draw, pointU, pointV } from './points';
import {
  bentX,
  bentY,
  bentZ,
  isBent,
  lookUp,
  pictureColor,
  pictureMetallic,
  pictureRoughness,
} from './texture';
import {
  BASE,
  hasFlag,
  IOR,
  materialOf,
  METALLIC,
  offset,
  reach,
  ROUGHNESS,
  SPECULAR,
  TEXTURE,
  TRANSMISSION,
  useScene,
  VARIES,
} from './scene';
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
  shadeByFace,
  standOn,
  turnNormal,
} from './surface';

/** Below this cosine to the shading normal the geometric normal is used instead. */
const LEAST_COSINE: f64 = 0.01;
/** Bytes in a surface of a path. */
const VARYING_METALLIC: usize = 16;
const VARYING_ROUGHNESS: usize = 20;
const IS_BENT: usize = 24;
const BENT: usize = 32;

let rayCount: u32 = 0;
let shadowCount: u32 = 0;

/**
 * Shades a vertex of each path, and queues rays.
 * @param alive how many there are
 * @param depth surfaces before these
 * @returns how many rays go on; `queuedShadows` tells how many shadow rays there are
 */
export function scatterPaths(scene: usize, room: usize, alive: u32, depth: u32): u32 {
  useScene(scene);
  useRoom(room);
  rayCount = 0;
  shadowCount = 0;
  for (let k: u32 = 0; k < alive; k++) scatter(wholeOf(rayPaths, k), depth);
  return rayCount;
}

/** Shadow rays that were queued last. */
export function queuedShadows(): u32 {
  return shadowCount;
}

function scatter(path: u32, depth: u32): void {
  const triangle = wholeOf(triangles, path);
  const material = materialOf(triangle);
  const back = backs + <usize>path * 24;
  const bx = load<f64>(back);
  const by = load<f64>(back, 8);
  const bz = load<f64>(back, 16);
  const weight = weights + ((<usize>path) << 4);
  const wb = load<f64>(weight);
  const wc = load<f64>(weight, 8);
  standOn(triangle, wb, wc);
  // What is met later on takes its place.
  const x = placeX;
  const y = placeY;
  const z = placeZ;
  lookFrom(bx, by, bz);
  seeMaterial(material, path, triangle, wb, wc);
  let up = normalX * bx + normalY * by + normalZ * bz;
  // Where the eye is below what the surface is shaded as, it is shaded as it lies.
  if (up < LEAST_COSINE) {
    shadeByFace();
    up = normalX * bx + normalY * by + normalZ * bz;
  }
  const gx = faceX;
  const gy = faceY;
  const gz = faceZ;
  const isWithin = isBack;
  orthonormalBasis(normalX, normalY, normalZ);
  const tx = basisTX;
  const ty = basisTY;
  const tz = basisTZ;
  const sx = basisSX;
  const sy = basisSY;
  const sz = basisSZ;
  prepare(
    base,
    metallic,
    roughness,
    <f64>load<f32>(material, SPECULAR),
    <f64>load<f32>(material, TRANSMISSION),
    <f64>load<f32>(material, IOR),
    bx * tx + by * ty + bz * tz,
    bx * sx + by * sy + bz * sz,
    up,
    isWithin,
  );
  const fromX = x + gx * offset;
  const fromY = y + gy * offset;
  const fromZ = z + gz * offset;
  const seed = wholeOf(seeds, path);
  const number = wholeOf(samples, path);

  draw(number, seed, depth, 0);
  const which = pointU;
  const lobe = pointV;
  draw(number, seed, depth, 1);
  // From the place itself: rays begin beside it only so as not to meet it.
  if (sampleLight(which, x, y, z)) {
    const cosine = lightX * normalX + lightY * normalY + lightZ * normalZ;
    if (cosine > 0 && lightX * gx + lightY * gy + lightZ * gz > 0) {
      evaluate(lightX * tx + lightY * ty + lightZ * tz, lightX * sx + lightY * sy + lightZ * sz, cosine);
      const share = lightPdf === 0 ? 1.0 : 1.0 / (lightPdf + pdf);
      queueShadowRay(path, depth, share, cosine, x, y, z, fromX, fromY, fromZ);
    }
  }
  draw(number, seed, depth, 2);
  sample(lobe, pointU, pointV);
  if (sampledZ === 0) return;
  const dx = tx * sampledX + sx * sampledY + normalX * sampledZ;
  const dy = ty * sampledX + sy * sampledY + normalY * sampledZ;
  const dz = tz * sampledX + sz * sampledY + normalZ * sampledZ;
  const isThrough = sampledZ < 0;
  // Light that would come through the surface where it does not, or not where it does.
  if (dx * gx + dy * gy + dz * gz > 0 === isThrough) return;
  const lobes = throughput + <usize>path * LOBE_BYTES;
  if (isThrough) {
    if (isBlack(through)) return;
    scaleLobes(lobes, depth, BLACK, BLACK, through, 0);
    // Light sampling cannot find the same.
    store<f64>(pdfs + ((<usize>path) << 3), Infinity);
    setWhole(within, path, isWithin ? 0 : <u32>material);
  } else {
    evaluate(sampledX, sampledY, sampledZ);
    if (!(pdf > 0)) return;
    const inverse = 1 / pdf;
    scaleLobes(lobes, depth, times(diffuse, inverse), times(glossy, inverse), BLACK, sampledZ * inverse);
    store<f64>(pdfs + ((<usize>path) << 3), pdf);
  }
  const side = isThrough ? -2 * offset : 0;
  const r = rayCount++;
  setWhole(rayPaths, r, path);
  setRay(origins, r, fromX + gx * side, fromY + gy * side, fromZ + gz * side);
  setRay(directions, r, dx, dy, dz);
  store<f32>(lengths + ((<usize>r) << 2), <f32>reach);
  if (depth === 0) setVector(firsts, path, dx, dy, dz);
}

let base: v128 = f32x4(0, 0, 0, 0);
let metallic: f64 = 0;
let roughness: f64 = 1;

/** Finds what a place is made of: from its material, its pictures, or as it was told; and bends the normal. */
function seeMaterial(material: usize, path: u32, triangle: u32, wb: f64, wc: f64): void {
  base = v128.load(material, BASE);
  metallic = <f64>load<f32>(material, METALLIC);
  roughness = <f64>load<f32>(material, ROUGHNESS);
  if (load<u32>(material, TEXTURE) !== 0) {
    lookUp(material, triangle, wb, wc, floatOf(widths, path));
    base = f32x4.mul(base, pictureColor);
    metallic *= pictureMetallic;
    roughness *= pictureRoughness;
    if (isBent) turnNormal(bentX, bentY, bentZ);
    return;
  }
  if (!hasFlag(material, VARIES)) return;
  const surface = surfaces + <usize>path * SURFACE_BYTES;
  base = v128.load(surface);
  metallic = <f64>load<f32>(surface, VARYING_METALLIC);
  roughness = <f64>load<f32>(surface, VARYING_ROUGHNESS);
  if (load<u32>(surface, IS_BENT) === 0) return;
  turnNormal(<f64>load<f32>(surface, BENT), <f64>load<f32>(surface, BENT + 4), <f64>load<f32>(surface, BENT + 8));
}

/** Multiplies a path's throughput by what a surface leaves, which at the first one is told apart by lobes. */
function scaleLobes(lobes: usize, depth: u32, matt: v128, gloss: v128, passing: v128, cosine: f64): void {
  if (depth === 0) {
    v128.store(lobes, matt);
    v128.store(lobes, gloss, GLOSSY);
    v128.store(lobes, passing, TRANSMITTED);
    v128.store(lobes, grey(cosine), INCIDENT);
    return;
  }
  const all = f32x4.add(f32x4.add(matt, gloss), passing);
  v128.store(lobes, f32x4.mul(v128.load(lobes), all));
  v128.store(lobes, f32x4.mul(v128.load(lobes, GLOSSY), all), GLOSSY);
  v128.store(lobes, f32x4.mul(v128.load(lobes, TRANSMITTED), all), TRANSMITTED);
  v128.store(lobes, f32x4.mul(v128.load(lobes, INCIDENT), all), INCIDENT);
}

/** Queues a shadow ray with the radiance that it adds if it is unoccluded. */
function queueShadowRay(
  path: u32,
  depth: u32,
  share: f64,
  cosine: f64,
  x: f64,
  y: f64,
  z: f64,
  fromX: f64,
  fromY: f64,
  fromZ: f64,
): void {
  // What varies is told later: until then it is white.
  const arriving = times(lightTriangle < 0 ? light : f32x4(1, 1, 1, 0), share);
  const s = shadowCount;
  const to = pending + <usize>s * LOBE_BYTES;
  const matt = f32x4.mul(arriving, diffuse);
  const gloss = f32x4.mul(arriving, glossy);
  let any: v128;
  if (depth === 0) {
    const incident = times(arriving, cosine);
    v128.store(to, matt);
    v128.store(to, gloss, GLOSSY);
    v128.store(to, BLACK, TRANSMITTED);
    v128.store(to, incident, INCIDENT);
    any = incident;
  } else {
    const both = f32x4.add(matt, gloss);
    const lobes = throughput + <usize>path * LOBE_BYTES;
    const first = f32x4.mul(both, v128.load(lobes));
    const second = f32x4.mul(both, v128.load(lobes, GLOSSY));
    const third = f32x4.mul(both, v128.load(lobes, TRANSMITTED));
    const incident = f32x4.mul(both, v128.load(lobes, INCIDENT));
    v128.store(to, first);
    v128.store(to, second, GLOSSY);
    v128.store(to, third, TRANSMITTED);
    v128.store(to, incident, INCIDENT);
    any = v128.or(v128.or(first, second), v128.or(third, incident));
  }
  if (isBlack(any)) return;
  shadowCount++;
  setWhole(shadowPaths, s, path);
  setWhole(shadowGroups, s, lightGroup);
  setWhole(shadowTriangles, s, lightTriangle);
  if (lightTriangle >= 0) {
    const weight = shadowWeights + ((<usize>s) << 4);
    store<f64>(weight, lightB);
    store<f64>(weight, lightC, 8);
  }
  setRay(shadowOrigins, s, fromX, fromY, fromZ);
  const length = shadowLengths + ((<usize>s) << 2);
  if (lightDistance === 0) {
    setRay(shadowDirections, s, lightX, lightY, lightZ);
    store<f32>(length, <f32>reach);
    return;
  }
  // From beside the place to the same place of the lamp, and not into that itself.
  const dx = x + lightX * lightDistance - fromX;
  const dy = y + lightY * lightDistance - fromY;
  const dz = z + lightZ * lightDistance - fromZ;
  const distance = sqrt<f64>(dx * dx + dy * dy + dz * dz);
  const scale = distance > 0 ? 1 / distance : 1;
  setRay(shadowDirections, s, dx * scale, dy * scale, dz * scale);
  store<f32>(length, <f32>(distance * (1 - 1e-4)));
}
