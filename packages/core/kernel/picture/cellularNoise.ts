// Cellular noise over two to four dimensions (Worley 1996). Places that follow each other lie close together: the points
// that could be nearest to any of some dozens are looked for once, and each place then only among those.
import { addressAt, floatAt, numberAt, wholeAt } from '../numbers';
import { singles, storeSome } from './lanes';

/** Places of a task, and as many as are taken together at most. */
const PLACES = 256;
const TOGETHER = 64;
/** Places farther than this from their middle, in cells, are not taken together. */
const SPREAD: f64 = 0.25;
/** A second nearest point that is known to be no farther than this need not be looked for. */
const NEAR: f64 = 1.5;

/** What a thread keeps, each by axis: the middle of some places, in cells, the cell it lies in, and one looked at; */
const CELL: usize = 32;
const AT: usize = 48;
/** how far the nearest and the second nearest point to the middle are, squared, how many points are kept, and these. */
const FIRST: usize = 64;
const SECOND: usize = 72;
const KEPT: usize = 80;
const POINTS: usize = 96;
/** A point, by axis: where it is, in cells, and where from the middle; then the number that names it. */
const POINT_BYTES: usize = 64;
const FROM_MIDDLE: usize = 32;
const NAME: usize = 48;

/** How distances become values; else to the nearest point. */
const SECOND_NEAREST = 1;
const DIFFERENCE = 2;
const NAMES = 3;
const CRACKS = 4;

/**
 * Values of cellular noise at some places.
 * Numbers: x, y, z and w of places as doubles, how many, dimensions, cells across the unit of the places, jitter, a
 * permutation, measure (0 to 4: the nearest point, the second, the difference, names, cracks), how far from the border
 * a crack ends and the ground begins, in cells, result.
 * @param room 96 bytes and 64 for each of 2401 points
 */
export function cellularNoiseOfPlaces(numbers: usize, task: i32, room: usize): void {
  const end = min(wholeAt(numbers, 4), (task + 1) * PLACES);
  store<i32>(room, 0, KEPT);
  let i = task * PLACES;
  while (i < end) {
    let count = min(TOGETHER, end - i);
    let spread = gather(numbers, i, count, room);
    while (spread > SPREAD && count > 1) {
      count = count > 4 ? max(4, count >> 1) : 1;
      spread = gather(numbers, i, count, room);
    }
    keepPoints(numbers, spread, room);
    for (let k = 0; k < count; k += 4) valuesOf(numbers, i + k, min(4, count - k), room);
    i += count;
  }
}

/** Finds the middle of some places. @returns how far the farthest is from it at most, in cells */
function gather(numbers: usize, from: i32, count: i32, room: usize): f64 {
  const cells = numberAt(numbers, 6);
  const dimensions = wholeAt(numbers, 5);
  let square: f64 = 0;
  for (let k = 0; k < dimensions; k++) {
    const axis = addressAt(numbers, k) + (<usize>from << 3);
    let low = load<f64>(axis);
    let high = low;
    for (let i = 1; i < count; i++) {
      const value = load<f64>(axis + (<usize>i << 3));
      low = min(low, value);
      high = max(high, value);
    }
    const half = ((high - low) / 2) * cells;
    square += half * half;
    store<f64>(room + (<usize>k << 3), ((low + high) / 2) * cells);
  }
  return sqrt(square);
}

/** Keeps all points that could be nearest or second nearest to a place no farther than `spread` from the middle. */
function keepPoints(numbers: usize, spread: f64, room: usize): void {
  const dimensions = wholeAt(numbers, 5);
  for (let k = 0; k < dimensions; k++) {
    store<i32>(room + (<usize>k << 2), <i32>floor(load<f64>(room + (<usize>k << 3))), CELL);
  }
  store<f64>(room, Infinity, FIRST);
  store<f64>(room, Infinity, SECOND);
  // Those kept for the places before most often hold the second nearest, or one that is hardly farther.
  for (let k = 0, kept = load<i32>(room, KEPT); k < kept; k++) {
    const point = room + POINTS + <usize>k * POINT_BYTES;
    let square: f64 = 0;
    for (let axis = 0; axis < dimensions; axis++) {
      const off = load<f64>(point + (<usize>axis << 3)) - load<f64>(room + (<usize>axis << 3));
      square += off * off;
    }
    compare(square, room);
  }
  if (load<f64>(room, SECOND) > NEAR * NEAR) seek(numbers, 0, 0, 0, room);
  store<i32>(room, 0, KEPT);
  const reach = sqrt(load<f64>(room, SECOND)) + 2 * spread;
  // A little more, for what rounding takes.
  keepWithin(numbers, 0, reach * reach * 1.000001, 0, 0, room);
}

@inline
function compare(square: f64, room: usize): void {
  const first = load<f64>(room, FIRST);
  if (square < first) {
    store<f64>(room, first, SECOND);
    store<f64>(room, square, FIRST);
  } else if (square < load<f64>(room, SECOND)) store<f64>(room, square, SECOND);
}

/** How far the middle is from a cell along an axis. */
@inline
function away(room: usize, axis: usize, cell: i32): f64 {
  const middle = load<f64>(room + (axis << 3));
  const own = load<i32>(room + (axis << 2), CELL);
  if (cell === own) return 0;
  return cell < own ? middle - <f64>(cell + 1) : <f64>cell - middle;
}

/**
 * Goes through the cells along an axis, the nearest first, as long as they can hold a nearer point to the middle.
 * @param square how far they are already along the axes before, squared
 * @param hash of the cells along those
 */
function seek(numbers: usize, axis: i32, square: f64, hash: i32, room: usize): void {
  if (axis === wholeAt(numbers, 5)) {
    compare(fromMiddle(numbers, hash, room), room);
    return;
  }
  const own = load<i32>(room + (<usize>axis << 2), CELL);
  const isLow = load<f64>(room + (<usize>axis << 3)) - <f64>own < 0.5;
  const table = addressAt(numbers, 8);
  for (let n = 0; n < 7; n++) {
    const side = ((n & 1) === 1) === isLow ? -1 : 1;
    const cell = own + side * ((n + 1) >> 1);
    const off = away(room, <usize>axis, cell);
    const all = square + off * off;
    if (all >= load<f64>(room, SECOND)) continue;
    store<i32>(room + (<usize>axis << 2), cell, AT);
    seek(numbers, axis + 1, all, <i32>load<u8>(table + <usize>(hash + (cell & 255))), room);
  }
}

/** Where the point of a cell is along an axis. */
@inline
function pointAlong(numbers: usize, axis: usize, hash: i32, room: usize): f64 {
  const shift = <f64>load<u8>(addressAt(numbers, 8) + <usize>hash + axis) / 256 + 1.0 / 512.0;
  return <f64>load<i32>(room + (axis << 2), AT) + 0.5 + (shift - 0.5) * numberAt(numbers, 7);
}

/** How far the point of a cell is from the middle, squared. */
function fromMiddle(numbers: usize, hash: i32, room: usize): f64 {
  let square: f64 = 0;
  for (let axis = 0, dimensions = wholeAt(numbers, 5); axis < dimensions; axis++) {
    const off = pointAlong(numbers, <usize>axis, hash, room) - load<f64>(room + (<usize>axis << 3));
    square += off * off;
  }
  return square;
}

/** Keeps all points that are no farther from the middle than `most`, squared. */
function keepWithin(numbers: usize, axis: i32, most: f64, square: f64, hash: i32, room: usize): void {
  if (axis === wholeAt(numbers, 5)) {
    if (fromMiddle(numbers, hash, room) <= most) keep(numbers, hash, room);
    return;
  }
  const own = load<i32>(room + (<usize>axis << 2), CELL);
  const table = addressAt(numbers, 8);
  const reach = sqrt(most - square);
  const middle = load<f64>(room + (<usize>axis << 3));
  const last = <i32>floor(middle + reach);
  for (let cell = <i32>floor(middle - reach); cell <= last; cell++) {
    const off = away(room, <usize>axis, cell);
    const all = square + off * off;
    if (all > most) continue;
    store<i32>(room + (<usize>axis << 2), cell, AT);
    keepWithin(numbers, axis + 1, most, all, <i32>load<u8>(table + <usize>(hash + (cell & 255))), room);
  }
}

function keep(numbers: usize, hash: i32, room: usize): void {
  const kept = load<i32>(room, KEPT);
  const point = room + POINTS + <usize>kept * POINT_BYTES;
  for (let axis: usize = 0, dimensions = <usize>wholeAt(numbers, 5); axis < dimensions; axis++) {
    const along = pointAlong(numbers, axis, hash, room);
    store<f64>(point + (axis << 3), along);
    store<f32>(point + (axis << 2), <f32>(along - load<f64>(room + (axis << 3))), FROM_MIDDLE);
  }
  store<f32>(point, <f32>load<u8>(addressAt(numbers, 8) + <usize>((hash + 91) & 255)) / 255, NAME);
  store<i32>(room, kept + 1, KEPT);
}

/** Values of four places, or of fewer. */
function valuesOf(numbers: usize, i: i32, lanes: i32, room: usize): void {
  const dimensions = wholeAt(numbers, 5);
  const x = along(numbers, 0, i, room);
  const y = along(numbers, 1, i, room);
  const z = dimensions > 2 ? along(numbers, 2, i, room) : f32x4.splat(0);
  const w = dimensions > 3 ? along(numbers, 3, i, room) : f32x4.splat(0);
  let first = f32x4.splat(Infinity);
  let second = first;
  let name = f32x4.splat(0);
  let point = room + POINTS;
  for (let k = load<i32>(room, KEPT); k > 0; k--, point += POINT_BYTES) {
    const dx = f32x4.sub(v128.load32_splat(point, FROM_MIDDLE), x);
    const dy = f32x4.sub(v128.load32_splat(point, FROM_MIDDLE + 4), y);
    let square = f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy));
    if (dimensions > 2) {
      const dz = f32x4.sub(v128.load32_splat(point, FROM_MIDDLE + 8), z);
      square = f32x4.add(square, f32x4.mul(dz, dz));
    }
    if (dimensions > 3) {
      const dw = f32x4.sub(v128.load32_splat(point, FROM_MIDDLE + 12), w);
      square = f32x4.add(square, f32x4.mul(dw, dw));
    }
    const isNearer = f32x4.lt(square, first);
    second = f32x4.pmin(second, v128.bitselect(first, square, isNearer));
    first = v128.bitselect(square, first, isNearer);
    name = v128.bitselect(v128.load32_splat(point, NAME), name, isNearer);
  }
  const value = measured(numbers, f32x4.sqrt(first), f32x4.sqrt(second), name);
  storeSome(addressAt(numbers, 12) + (<usize>i << 2), value, lanes);
}

/** How far four places lie from the middle along an axis. */
@inline
function along(numbers: usize, axis: usize, i: i32, room: usize): v128 {
  const from = addressAt(numbers, axis) + (<usize>i << 3);
  const cells = f64x2.splat(numberAt(numbers, 6));
  const middle = v128.load64_splat(room + (axis << 3));
  const low = f64x2.sub(f64x2.mul(v128.load(from), cells), middle);
  const high = f64x2.sub(f64x2.mul(v128.load(from, 16), cells), middle);
  return singles(low, high);
}

@inline
function measured(numbers: usize, nearest: v128, second: v128, name: v128): v128 {
  const one = f32x4.splat(1);
  switch (wholeAt(numbers, 9)) {
    case SECOND_NEAREST:
      return f32x4.pmin(one, second);
    case DIFFERENCE:
      return f32x4.pmin(one, f32x4.sub(second, nearest));
    case NAMES:
      return name;
    case CRACKS: {
      const low = floatAt(numbers, 10);
      const span = floatAt(numbers, 11) - low;
      const border = f32x4.mul(f32x4.sub(second, nearest), f32x4.splat(0.5));
      if (span <= 0) return v128.and(f32x4.ge(border, f32x4.splat(low)), one);
      const share = f32x4.div(f32x4.sub(border, f32x4.splat(low)), f32x4.splat(span));
      const t = f32x4.pmax(f32x4.splat(0), f32x4.pmin(one, share));
      return f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
    }
    default:
      return f32x4.pmin(one, nearest);
  }
}
