// Light from far away all about: a picture of longitude across and height down, sampled by the radiance of its texels.
import { colorAt } from './colors';
import { pointU, pointV, turnBy, turnCosine, turnSine } from './points';
import {
  sky,
  skyAxes,
  skyColumnGuide,
  skyColumns,
  skyEdges,
  skyHeight,
  skyRowGuide,
  skyRows,
  skyWidth,
} from './scene';

/** The direction that was sampled last. */
export let skyX: f64 = 0;
export let skyY: f64 = 0;
export let skyZ: f64 = 0;

@inline
function doubleAt(list: usize, k: u32): f64 {
  return load<f64>(list + (<usize>k << 3));
}

/** Samples a direction in proportion to radiance, by the point that was drawn last. @returns its texel */
export function sampleSky(): u32 {
  const u = pointU;
  const v = pointV;
  let y = <u32>load<u16>(skyRowGuide + (<usize>(<u32>(u * <f64>skyHeight)) << 1));
  while (y < skyHeight - 1 && doubleAt(skyRows, y + 1) <= u) y++;
  const guide = skyColumnGuide + (<usize>(y * skyWidth) << 1);
  const columns = skyColumns + (<usize>(y * (skyWidth + 1)) << 3);
  let x = <u32>load<u16>(guide + (<usize>(<u32>(v * <f64>skyWidth)) << 1));
  while (x < skyWidth - 1 && doubleAt(columns, x + 1) <= v) x++;
  // What is left of both numbers picks the place within the texel.
  const row = doubleAt(skyRows, y);
  const column = doubleAt(columns, x);
  const down = (u - row) / (doubleAt(skyRows, y + 1) - row);
  const across = (v - column) / (doubleAt(columns, x + 1) - column);
  const above = doubleAt(skyEdges, y);
  const up = above + (doubleAt(skyEdges, y + 1) - above) * down;
  const level = sqrt<f64>(max<f64>(0, 1 - up * up));
  turnBy((<f64>x + across) / <f64>skyWidth);
  // North is in the middle of the picture.
  const north = -level * turnCosine;
  const east = -level * turnSine;
  skyX = along(0, up, north, east);
  skyY = along(1, up, north, east);
  skyZ = along(2, up, north, east);
  return y * skyWidth + x;
}

@inline
function along(axis: u32, up: f64, north: f64, east: f64): f64 {
  return up * doubleAt(skyAxes, axis) + north * doubleAt(skyAxes, axis + 3) + east * doubleAt(skyAxes, axis + 6);
}

/** Probability density of `sampleSky` in any direction of a texel, by solid angle. */
@inline
export function skyPdf(texel: u32): f64 {
  return <f64>load<f32>(sky + (<usize>texel << 4), 12);
}

/** The texel that a direction lies in. */
export function skyTexel(x: f64, y: f64, z: f64): u32 {
  const up = max<f64>(-1, min<f64>(1, towards(0, x, y, z)));
  const turn = Math.atan2(towards(6, x, y, z), towards(3, x, y, z)) / (2 * Math.PI);
  const column = <i32>floor<f64>((0.5 + turn) * <f64>skyWidth);
  const row = <i32>floor<f64>((Math.acos(up) / Math.PI) * <f64>skyHeight);
  const last = <i32>skyWidth - 1;
  return <u32>min<i32>(<i32>skyHeight - 1, row) * skyWidth + <u32>min<i32>(last, max<i32>(0, column));
}

@inline
function towards(axis: u32, x: f64, y: f64, z: f64): f64 {
  return x * doubleAt(skyAxes, axis) + y * doubleAt(skyAxes, axis + 1) + z * doubleAt(skyAxes, axis + 2);
}

@inline
export function skyRadiance(texel: u32): v128 {
  return colorAt(sky + (<usize>texel << 4));
}
