// A place on the scene's surface: where it is, how its triangle lies, and the normal that it is shaded by. What is told of
// a vertex lies together: its place and u, its normal and v.
import { corners, vertices } from './scene';

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
/** Where the place lies in the layout of pictures. */
export let placeU: f64 = 0;
export let placeV: f64 = 0;
/** Twice the area of the triangle, in mesh units and in units of UVs. */
export let faceArea: f64 = 0;
export let layoutArea: f64 = 0;

/** Of the triangle that was asked for last: its first corner's place, and the edges to the others; normals alike. */
let edgeB: v128 = f32x4(0, 0, 0, 0);
let edgeC: v128 = f32x4(0, 0, 0, 0);
let turnB: v128 = f32x4(0, 0, 0, 0);
let turnC: v128 = f32x4(0, 0, 0, 0);

/** Stands on a place of a triangle, told by the weights of its second and third corner. */
export function standOn(triangle: u32, wb: f64, wc: f64): void {
  const record = corners + ((<usize>triangle) << 4);
  const a = vertices + <usize>load<u32>(record);
  const b = vertices + <usize>load<u32>(record, 4);
  const c = vertices + <usize>load<u32>(record, 8);
  const second = f32x4.splat(<f32>wb);
  const third = f32x4.splat(<f32>wc);
  const place = v128.load(a);
  edgeB = f32x4.sub(v128.load(b), place);
  edgeC = f32x4.sub(v128.load(c), place);
  const at = f32x4.add(place, f32x4.add(f32x4.mul(edgeB, second), f32x4.mul(edgeC, third)));
  const normal = v128.load(a, 16);
  turnB = f32x4.sub(v128.load(b, 16), normal);
  turnC = f32x4.sub(v128.load(c, 16), normal);
  const raw = f32x4.add(normal, f32x4.add(f32x4.mul(turnB, second), f32x4.mul(turnC, third)));
  placeX = <f64>f32x4.extract_lane(at, 0);
  placeY = <f64>f32x4.extract_lane(at, 1);
  placeZ = <f64>f32x4.extract_lane(at, 2);
  placeU = <f64>f32x4.extract_lane(at, 3);
  rawX = <f64>f32x4.extract_lane(raw, 0);
  rawY = <f64>f32x4.extract_lane(raw, 1);
  rawZ = <f64>f32x4.extract_lane(raw, 2);
  placeV = <f64>f32x4.extract_lane(raw, 3);
  const square = rawX * rawX + rawY * rawY + rawZ * rawZ;
  const scale = square > 0 ? 1 / sqrt<f64>(square) : 0;
  normalX = rawX * scale;
  normalY = rawY * scale;
  normalZ = rawZ * scale;
}

/** Looks at the triangle that is stood on from a direction: turns its plane and normal to that side. */
export function lookFrom(x: f64, y: f64, z: f64): void {
  findFace();
  isBack = faceX * x + faceY * y + faceZ * z < 0;
  let scale = faceArea > 0 ? 1 / faceArea : 0;
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

/** Finds how large the triangle that is stood on is in the layout. */
export function findLayoutArea(): void {
  const bu = <f64>f32x4.extract_lane(edgeB, 3);
  const cu = <f64>f32x4.extract_lane(edgeC, 3);
  const bv = <f64>f32x4.extract_lane(turnB, 3);
  const cv = <f64>f32x4.extract_lane(turnC, 3);
  layoutArea = abs<f64>(bu * cv - bv * cu);
}

/** Cosine between a triangle's outer side and a direction; below 0 from behind. */
export function facing(triangle: u32, x: f64, y: f64, z: f64): f64 {
  standOn(triangle, 0, 0);
  findFace();
  return (faceX * x + faceY * y + faceZ * z) / faceArea;
}

/** The cross product of two of its edges: in double precision, for edges of slivers are almost the same. */
function findFace(): void {
  const ux = <f64>f32x4.extract_lane(edgeB, 0);
  const uy = <f64>f32x4.extract_lane(edgeB, 1);
  const uz = <f64>f32x4.extract_lane(edgeB, 2);
  const vx = <f64>f32x4.extract_lane(edgeC, 0);
  const vy = <f64>f32x4.extract_lane(edgeC, 1);
  const vz = <f64>f32x4.extract_lane(edgeC, 2);
  faceX = uy * vz - uz * vy;
  faceY = uz * vx - ux * vz;
  faceZ = ux * vy - uy * vx;
  faceArea = sqrt<f64>(faceX * faceX + faceY * faceY + faceZ * faceZ);
}
