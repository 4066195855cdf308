// A place on the scene's surface: where it is, how its triangle lies, and the normal that it is shaded by.
import { indices, normals, positions } from './scene';

export let placeX: f64 = 0;
export let placeY: f64 = 0;
export let placeZ: f64 = 0;
/** The unit normal of the triangle's plane, on the side that is looked at. */
export let faceX: f64 = 0;
export let faceY: f64 = 0;
export let faceZ: f64 = 1;
/** Whether that is not the side which the triangle's corners turn to. */
export let isBack: bool = false;
/** The interpolated unit normal, on the same side; 0 where there is none. */
export let normalX: f64 = 0;
export let normalY: f64 = 0;
export let normalZ: f64 = 1;

/** The same as it is interpolated, of any length and on neither side. */
export let rawX: f64 = 0;
export let rawY: f64 = 0;
export let rawZ: f64 = 1;
/** Twice the area of the triangle that was looked at last. */
export let faceArea: f64 = 0;

let cornerA: usize = 0;
let cornerB: usize = 0;
let cornerC: usize = 0;

@inline
function useCorners(triangle: u32): void {
  const corners = indices + <usize>triangle * 12;
  cornerA = <usize>load<u32>(corners) * 12;
  cornerB = <usize>load<u32>(corners, 4) * 12;
  cornerC = <usize>load<u32>(corners, 8) * 12;
}

@inline
function mixedAt(from: usize, axis: usize, wa: f64, wb: f64, wc: f64): f64 {
  return (
    <f64>load<f32>(from + cornerA + axis) * wa +
    <f64>load<f32>(from + cornerB + axis) * wb +
    <f64>load<f32>(from + cornerC + axis) * wc
  );
}

/** Finds a place by the weights of its triangle's second and third corner. */
export function placeOn(triangle: u32, wb: f64, wc: f64): void {
  useCorners(triangle);
  const wa = 1 - wb - wc;
  placeX = mixedAt(positions, 0, wa, wb, wc);
  placeY = mixedAt(positions, 4, wa, wb, wc);
  placeZ = mixedAt(positions, 8, wa, wb, wc);
}

/** Finds the normal, not yet on any side, of the triangle asked for last. */
export function normalOn(wb: f64, wc: f64): void {
  const wa = 1 - wb - wc;
  rawX = mixedAt(normals, 0, wa, wb, wc);
  rawY = mixedAt(normals, 4, wa, wb, wc);
  rawZ = mixedAt(normals, 8, wa, wb, wc);
  const square = rawX * rawX + rawY * rawY + rawZ * rawZ;
  const scale = square > 0 ? 1 / sqrt<f64>(square) : 0;
  normalX = rawX * scale;
  normalY = rawY * scale;
  normalZ = rawZ * scale;
}

/** Looks at the triangle asked for last from a direction: turns its plane and normal to that side. */
export function lookFrom(x: f64, y: f64, z: f64): void {
  findFace();
  const square = faceX * faceX + faceY * faceY + faceZ * faceZ;
  isBack = faceX * x + faceY * y + faceZ * z < 0;
  faceArea = sqrt<f64>(square);
  let scale = square > 0 ? 1 / faceArea : 0;
  if (isBack) scale = -scale;
  faceX *= scale;
  faceY *= scale;
  faceZ *= scale;
  turnNormal(normalX, normalY, normalZ);
}

/** Takes a normal to shade by, turned to the side that is looked at. */
export function turnNormal(x: f64, y: f64, z: f64): void {
  const side: f64 = x * faceX + y * faceY + z * faceZ < 0 ? -1 : 1;
  normalX = x * side;
  normalY = y * side;
  normalZ = z * side;
}

/** Shades by the plane itself. */
export function shadeByFace(): void {
  normalX = faceX;
  normalY = faceY;
  normalZ = faceZ;
}

/** Cosine between a triangle's outer side and a direction; below 0 from behind. */
export function facing(triangle: u32, x: f64, y: f64, z: f64): f64 {
  useCorners(triangle);
  findFace();
  const square = faceX * faceX + faceY * faceY + faceZ * faceZ;
  return (faceX * x + faceY * y + faceZ * z) / sqrt<f64>(square);
}

/** The cross product of two of its edges. */
function findFace(): void {
  const a = positions + cornerA;
  const b = positions + cornerB;
  const c = positions + cornerC;
  const ax = <f64>load<f32>(a);
  const ay = <f64>load<f32>(a, 4);
  const az = <f64>load<f32>(a, 8);
  const ux = <f64>load<f32>(b) - ax;
  const uy = <f64>load<f32>(b, 4) - ay;
  const uz = <f64>load<f32>(b, 8) - az;
  const vx = <f64>load<f32>(c) - ax;
  const vy = <f64>load<f32>(c, 4) - ay;
  const vz = <f64>load<f32>(c, 8) - az;
  faceX = uy * vz - uz * vy;
  faceY = uz * vx - ux * vz;
  faceZ = ux * vy - uy * vx;
}
