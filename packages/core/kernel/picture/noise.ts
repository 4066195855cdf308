// Noises over two to four dimensions, four places at a time: simplex noise (Gustavson 2005) and gradient noise (Perlin
// 2002), added up in octaves. Lattice points are found in double precision, what lies between them in single.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { singles } from './lanes';

/** Places of a task. */
const PLACES = 256;
/** An octave: cells, weight, how much of it shows, its mean, and the address of its permutation. */
const OCTAVE_BYTES: usize = 24;

/** A coordinate of four places: which cell of the lattice, and where from there; then as doubles, and their floors. */
const AXIS_BYTES: usize = 96;
const FROM_CELL: usize = 16;
const LOW: usize = 32;
const HIGH: usize = 48;
const LOW_FLOOR: usize = 64;
const HIGH_FLOOR: usize = 80;

/**
 * Octaves of a noise at some places.
 * Numbers: x, y, z and w of places as doubles, how many, dimensions, whether it is simplex noise, style (smooth, ridged,
 * billowed), octaves, how many, what those add that are too fine to be seen, what the sum is multiplied by, result.
 * @param room 96 bytes for each dimension
 */
export function noiseOfPlaces(numbers: usize, task: i32, room: usize): void {
  const dimensions = wholeAt(numbers, 5);
  const isSimplex = wholeAt(numbers, 6) !== 0;
  const style = wholeAt(numbers, 7);
  const octaves = addressAt(numbers, 8);
  const count = wholeAt(numbers, 9);
  const hidden = f32x4.splat(floatAt(numbers, 10));
  const scale = f32x4.splat(floatAt(numbers, 11));
  const result = addressAt(numbers, 12);
  const end = min(wholeAt(numbers, 4), (task + 1) * PLACES);
  for (let i = task * PLACES; i < end; i += 4) {
    let sum = hidden;
    for (let k = 0; k < count; k++) {
      const octave = octaves + <usize>k * OCTAVE_BYTES;
      place(numbers, i, dimensions, load<f64>(octave), isSimplex, room);
      const table = <usize>load<u32>(octave, 20);
      let value: v128;
      if (dimensions === 4) value = isSimplex ? simplex4(table, room) : gradient4(table, room);
      else if (dimensions === 3) value = isSimplex ? simplex3(table, room) : gradient3(table, room);
      else value = isSimplex ? simplex2(table, room) : gradient2(table, room);
      value = styled(value, style);
      const mean = v128.load32_splat(octave, 16);
      const faded = f32x4.add(mean, f32x4.mul(f32x4.sub(value, mean), v128.load32_splat(octave, 12)));
      sum = f32x4.add(sum, f32x4.mul(faded, v128.load32_splat(octave, 8)));
    }
    v128.store(result + (<usize>i << 2), f32x4.mul(sum, scale));
  }
}

/**
 * Finds four places in the lattice: of squares and their like as they are, of simplices where it is skewed.
 * @param cells of the lattice, across the unit of the places
 */
function place(numbers: usize, i: i32, dimensions: i32, cells: f64, isSkewed: bool, room: usize): void {
  const scale = f64x2.splat(cells);
  let low = f64x2.splat(0);
  let high = low;
  for (let k = 0; k < dimensions; k++) {
    const axis = room + <usize>k * AXIS_BYTES;
    const from = addressAt(numbers, k) + (<usize>i << 3);
    const p = f64x2.mul(v128.load(from), scale);
    const q = f64x2.mul(v128.load(from, 16), scale);
    v128.store(axis, p, LOW);
    v128.store(axis, q, HIGH);
    low = f64x2.add(low, p);
    high = f64x2.add(high, q);
  }
  const skew = f64x2.splat(isSkewed ? skewOf(dimensions) : 0);
  low = f64x2.mul(low, skew);
  high = f64x2.mul(high, skew);
  let lowSum = f64x2.splat(0);
  let highSum = lowSum;
  for (let k = 0; k < dimensions; k++) {
    const axis = room + <usize>k * AXIS_BYTES;
    const p = f64x2.floor(f64x2.add(v128.load(axis, LOW), low));
    const q = f64x2.floor(f64x2.add(v128.load(axis, HIGH), high));
    v128.store(axis, p, LOW_FLOOR);
    v128.store(axis, q, HIGH_FLOOR);
    lowSum = f64x2.add(lowSum, p);
    highSum = f64x2.add(highSum, q);
  }
  const unskew = f64x2.splat(isSkewed ? unskewOf(dimensions) : 0);
  lowSum = f64x2.mul(lowSum, unskew);
  highSum = f64x2.mul(highSum, unskew);
  for (let k = 0; k < dimensions; k++) {
    const axis = room + <usize>k * AXIS_BYTES;
    const p = v128.load(axis, LOW_FLOOR);
    const q = v128.load(axis, HIGH_FLOOR);
    v128.store(axis, cellsOf(p, q));
    const low = f64x2.add(f64x2.sub(v128.load(axis, LOW), p), lowSum);
    const high = f64x2.add(f64x2.sub(v128.load(axis, HIGH), q), highSum);
    v128.store(axis, singles(low, high), FROM_CELL);
  }
}

/** (√(n + 1) − 1) / n, and what takes it back. */
@inline
function skewOf(dimensions: i32): f64 {
  if (dimensions === 2) return 0.3660254037844386;
  return dimensions === 3 ? 1.0 / 3.0 : 0.30901699437494745;
}

@inline
function unskewOf(dimensions: i32): f64 {
  if (dimensions === 2) return 0.21132486540518713;
  return dimensions === 3 ? 1.0 / 6.0 : 0.1381966011250105;
}

/** Which cell along an axis. */
@inline
function cellAt(room: usize, axis: usize): v128 {
  return v128.load(room + axis * AXIS_BYTES);
}

/** How far from there. */
@inline
function fromCell(room: usize, axis: usize): v128 {
  return v128.load(room + axis * AXIS_BYTES, FROM_CELL);
}

/** A noise of −1 to 1 as 0 to 1. */
@inline
function styled(noise: v128, style: i32): v128 {
  const one = f32x4.splat(1);
  if (style === 0) return f32x4.mul(f32x4.add(noise, one), f32x4.splat(0.5));
  const size = f32x4.pmin(one, f32x4.abs(noise));
  if (style === 2) return size;
  const ridge = f32x4.sub(one, size);
  return f32x4.mul(ridge, ridge);
}

/** The lowest byte of four whole numbers that are held as doubles. */
@inline
function cellsOf(low: v128, high: v128): v128 {
  const a = i32x4.trunc_sat_f64x2_s_zero(low);
  const b = i32x4.trunc_sat_f64x2_s_zero(high);
  return v128.shuffle<i64>(a, b, 0, 2);
}

/** What a permutation has for four numbers, none above 511. */
@inline
function lookUp(table: usize, at: v128): v128 {
  let bytes = i32x4.splat(0);
  bytes = v128.load_lane<u8>(table + <usize>i32x4.extract_lane(at, 0), bytes, 0);
  bytes = v128.load_lane<u8>(table + <usize>i32x4.extract_lane(at, 1), bytes, 4);
  bytes = v128.load_lane<u8>(table + <usize>i32x4.extract_lane(at, 2), bytes, 8);
  return v128.load_lane<u8>(table + <usize>i32x4.extract_lane(at, 3), bytes, 12);
}

@inline
function inTable(cell: v128): v128 {
  return v128.and(cell, i32x4.splat(255));
}

/** Turns the sign of a number round where a bit of another is set. */
@inline
function signed(value: v128, hash: v128, bit: i32): v128 {
  return v128.xor(value, i32x4.shl(v128.and(hash, i32x4.splat(1 << bit)), 31 - bit));
}

/** Slope along one of Perlin's twelve gradients; of a hash below 256. */
@inline
function slope2(hash: v128, x: v128, y: v128): v128 {
  const g = twelfth(hash);
  const q = i32x4.shr_u(g, 2);
  const first = signed(v128.bitselect(y, x, i32x4.eq(q, i32x4.splat(2))), g, 0);
  return f32x4.add(first, v128.and(signed(y, g, 1), i32x4.eq(q, i32x4.splat(0))));
}

@inline
function slope3(hash: v128, x: v128, y: v128, z: v128): v128 {
  const g = twelfth(hash);
  const q = i32x4.shr_u(g, 2);
  const first = v128.bitselect(y, x, i32x4.eq(q, i32x4.splat(2)));
  const second = v128.bitselect(y, z, i32x4.eq(q, i32x4.splat(0)));
  return f32x4.add(signed(first, g, 0), signed(second, g, 1));
}

/** One of 32: which axis is left out, and three signs. */
@inline
function slope4(hash: v128, x: v128, y: v128, z: v128, w: v128): v128 {
  const q = v128.and(i32x4.shr_u(hash, 3), i32x4.splat(3));
  const first = v128.bitselect(z, w, i32x4.eq(q, i32x4.splat(3)));
  const second = v128.bitselect(y, z, i32x4.ge_s(q, i32x4.splat(2)));
  const third = v128.bitselect(y, x, i32x4.eq(q, i32x4.splat(0)));
  return f32x4.add(f32x4.add(signed(first, hash, 0), signed(second, hash, 1)), signed(third, hash, 2));
}

/** The rest of a division by 12, of numbers below 256. */
@inline
function twelfth(hash: v128): v128 {
  const times = i32x4.shr_u(i32x4.mul(hash, i32x4.splat(171)), 11);
  return i32x4.sub(hash, i32x4.mul(times, i32x4.splat(12)));
}

/** A slope, weighed by how near its corner is. */
@inline
function falling(fall: v128, slope: v128): v128 {
  const near = f32x4.pmax(f32x4.splat(0), fall);
  const square = f32x4.mul(near, near);
  return f32x4.mul(f32x4.mul(square, square), slope);
}

/** 1 where a mask is set. */
@inline
function one(mask: v128): v128 {
  return v128.and(mask, f32x4.splat(1));
}

// ── simplex noise ──

/** The cell of a corner along an axis: the next one where a mask is set. */
@inline
function cellOfCorner(room: usize, axis: usize, isNext: v128): v128 {
  return inTable(i32x4.sub(cellAt(room, axis), isNext));
}

/** How far places lie from a corner along an axis. @param back what so many steps to corners are skewed by */
@inline
function fromCorner(room: usize, axis: usize, isNext: v128, back: v128): v128 {
  return f32x4.add(f32x4.sub(fromCell(room, axis), one(isNext)), back);
}

/** What a corner adds that is one cell on along some axes, by their masks, and so many in all. */
function corner2(table: usize, room: usize, a: v128, b: v128, steps: f64): v128 {
  const back = f32x4.splat(<f32>(steps * unskewOf(2)));
  const x = fromCorner(room, 0, a, back);
  const y = fromCorner(room, 1, b, back);
  const hash = lookUp(table, i32x4.add(cellOfCorner(room, 0, a), lookUp(table, cellOfCorner(room, 1, b))));
  const fall = f32x4.sub(f32x4.sub(f32x4.splat(0.5), f32x4.mul(x, x)), f32x4.mul(y, y));
  return falling(fall, slope2(hash, x, y));
}

function simplex2(table: usize, room: usize): v128 {
  const none = i32x4.splat(0);
  const all = v128.not(none);
  const isRight = f32x4.gt(fromCell(room, 0), fromCell(room, 1));
  let sum = corner2(table, room, none, none, 0);
  sum = f32x4.add(sum, corner2(table, room, isRight, v128.not(isRight), 1));
  sum = f32x4.add(sum, corner2(table, room, all, all, 2));
  return f32x4.mul(sum, f32x4.splat(70));
}

function corner3(table: usize, room: usize, a: v128, b: v128, c: v128, steps: f64): v128 {
  const back = f32x4.splat(<f32>(steps * unskewOf(3)));
  const x = fromCorner(room, 0, a, back);
  const y = fromCorner(room, 1, b, back);
  const z = fromCorner(room, 2, c, back);
  const inner = lookUp(table, i32x4.add(cellOfCorner(room, 1, b), lookUp(table, cellOfCorner(room, 2, c))));
  const hash = lookUp(table, i32x4.add(cellOfCorner(room, 0, a), inner));
  const squares = f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z));
  return falling(f32x4.sub(f32x4.splat(0.6), squares), slope3(hash, x, y, z));
}

function simplex3(table: usize, room: usize): v128 {
  const none = i32x4.splat(0);
  const all = v128.not(none);
  const x = fromCell(room, 0);
  const y = fromCell(room, 1);
  const z = fromCell(room, 2);
  const xy = f32x4.ge(x, y);
  const xz = f32x4.ge(x, z);
  const yz = f32x4.ge(y, z);
  let sum = corner3(table, room, none, none, none, 0);
  const isLeast = v128.not(v128.or(xz, yz));
  sum = f32x4.add(sum, corner3(table, room, v128.and(xy, xz), v128.andnot(yz, xy), isLeast, 1));
  const isNotMost = v128.not(v128.and(xz, yz));
  sum = f32x4.add(sum, corner3(table, room, v128.or(xy, xz), v128.or(v128.not(xy), yz), isNotMost, 2));
  sum = f32x4.add(sum, corner3(table, room, all, all, all, 3));
  return f32x4.mul(sum, f32x4.splat(32));
}

function corner4(table: usize, room: usize, a: v128, b: v128, c: v128, d: v128, steps: f64): v128 {
  const back = f32x4.splat(<f32>(steps * unskewOf(4)));
  const x = fromCorner(room, 0, a, back);
  const y = fromCorner(room, 1, b, back);
  const z = fromCorner(room, 2, c, back);
  const w = fromCorner(room, 3, d, back);
  const innermost = lookUp(table, i32x4.add(cellOfCorner(room, 2, c), lookUp(table, cellOfCorner(room, 3, d))));
  const inner = lookUp(table, i32x4.add(cellOfCorner(room, 1, b), innermost));
  const hash = lookUp(table, i32x4.add(cellOfCorner(room, 0, a), inner));
  const squares = f32x4.add(
    f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)),
    f32x4.add(f32x4.mul(z, z), f32x4.mul(w, w)),
  );
  return falling(f32x4.sub(f32x4.splat(0.6), squares), slope4(hash, x, y, z, w));
}

function simplex4(table: usize, room: usize): v128 {
  const x = fromCell(room, 0);
  const y = fromCell(room, 1);
  const z = fromCell(room, 2);
  const w = fromCell(room, 3);
  // How many of the others each coordinate is above; masks are −1.
  const xy = f32x4.gt(x, y);
  const xz = f32x4.gt(x, z);
  const yz = f32x4.gt(y, z);
  const xw = f32x4.gt(x, w);
  const yw = f32x4.gt(y, w);
  const zw = f32x4.gt(z, w);
  const rankX = i32x4.neg(i32x4.add(i32x4.add(xy, xz), xw));
  const rankY = i32x4.neg(i32x4.add(i32x4.add(v128.not(xy), yz), yw));
  const rankZ = i32x4.neg(i32x4.add(i32x4.add(v128.not(xz), v128.not(yz)), zw));
  const rankW = i32x4.sub(i32x4.splat(6), i32x4.add(i32x4.add(rankX, rankY), rankZ));
  let sum = f32x4.splat(0);
  // From the cell's own corner, which no rank reaches, along one axis more each time.
  for (let step = 0; step <= 4; step++) {
    const least = i32x4.splat(4 - step);
    const a = i32x4.ge_s(rankX, least);
    const b = i32x4.ge_s(rankY, least);
    const c = i32x4.ge_s(rankZ, least);
    const d = i32x4.ge_s(rankW, least);
    sum = f32x4.add(sum, corner4(table, room, a, b, c, d, <f64>step));
  }
  return f32x4.mul(sum, f32x4.splat(27));
}

// ── gradient noise ──

/** Perlin's second interpolant. */
@inline
function eased(t: v128): v128 {
  const inner = f32x4.sub(f32x4.mul(t, f32x4.splat(6)), f32x4.splat(15));
  const outer = f32x4.add(f32x4.mul(t, inner), f32x4.splat(10));
  return f32x4.mul(f32x4.mul(f32x4.mul(t, t), t), outer);
}

@inline
function between(low: v128, high: v128, share: v128): v128 {
  return f32x4.add(low, f32x4.mul(share, f32x4.sub(high, low)));
}

/** The cell below and above, in the table. */
@inline
function following(cell: v128): v128 {
  return inTable(i32x4.add(cell, i32x4.splat(1)));
}

function gradient2(table: usize, room: usize): v128 {
  const i = cellAt(room, 0);
  const x = fromCell(room, 0);
  const j = cellAt(room, 1);
  const y = fromCell(room, 1);
  const low = face1(table, lookUp(table, inTable(i)), j, x, y);
  const high = face1(table, lookUp(table, following(i)), j, f32x4.sub(x, f32x4.splat(1)), y);
  return between(low, high, eased(x));
}

@inline
function face1(table: usize, hash: v128, j: v128, x: v128, y: v128): v128 {
  const low = slope2(lookUp(table, i32x4.add(hash, inTable(j))), x, y);
  const high = slope2(lookUp(table, i32x4.add(hash, following(j))), x, f32x4.sub(y, f32x4.splat(1)));
  return between(low, high, eased(y));
}

function gradient3(table: usize, room: usize): v128 {
  const i = cellAt(room, 0);
  const x = fromCell(room, 0);
  const j = cellAt(room, 1);
  const y = fromCell(room, 1);
  const k = cellAt(room, 2);
  const z = fromCell(room, 2);
  const low = face2(table, lookUp(table, inTable(i)), j, k, x, y, z);
  const high = face2(table, lookUp(table, following(i)), j, k, f32x4.sub(x, f32x4.splat(1)), y, z);
  return between(low, high, eased(x));
}

function face2(table: usize, hash: v128, j: v128, k: v128, x: v128, y: v128, z: v128): v128 {
  const above = f32x4.sub(y, f32x4.splat(1));
  const beyond = f32x4.sub(z, f32x4.splat(1));
  const first = lookUp(table, i32x4.add(hash, inTable(j)));
  const second = lookUp(table, i32x4.add(hash, following(j)));
  const near = inTable(k);
  const far = following(k);
  const ez = eased(z);
  const low = between(
    slope3(lookUp(table, i32x4.add(first, near)), x, y, z),
    slope3(lookUp(table, i32x4.add(first, far)), x, y, beyond),
    ez,
  );
  const high = between(
    slope3(lookUp(table, i32x4.add(second, near)), x, above, z),
    slope3(lookUp(table, i32x4.add(second, far)), x, above, beyond),
    ez,
  );
  return between(low, high, eased(y));
}

function gradient4(table: usize, room: usize): v128 {
  const i = cellAt(room, 0);
  const x = fromCell(room, 0);
  const j = cellAt(room, 1);
  const y = fromCell(room, 1);
  const k = cellAt(room, 2);
  const z = fromCell(room, 2);
  const l = cellAt(room, 3);
  const w = fromCell(room, 3);
  const low = face3(table, lookUp(table, inTable(i)), j, k, l, x, y, z, w);
  const high = face3(table, lookUp(table, following(i)), j, k, l, f32x4.sub(x, f32x4.splat(1)), y, z, w);
  return between(low, high, eased(x));
}

function face3(table: usize, hash: v128, j: v128, k: v128, l: v128, x: v128, y: v128, z: v128, w: v128): v128 {
  const first = lookUp(table, i32x4.add(hash, inTable(j)));
  const second = lookUp(table, i32x4.add(hash, following(j)));
  const low = side3(table, first, k, l, x, y, z, w);
  const high = side3(table, second, k, l, x, f32x4.sub(y, f32x4.splat(1)), z, w);
  return between(low, high, eased(y));
}

function side3(table: usize, hash: v128, k: v128, l: v128, x: v128, y: v128, z: v128, w: v128): v128 {
  const beyond = f32x4.sub(z, f32x4.splat(1));
  const later = f32x4.sub(w, f32x4.splat(1));
  const first = lookUp(table, i32x4.add(hash, inTable(k)));
  const second = lookUp(table, i32x4.add(hash, following(k)));
  const near = inTable(l);
  const far = following(l);
  const ew = eased(w);
  const low = between(
    slope4(lookUp(table, i32x4.add(first, near)), x, y, z, w),
    slope4(lookUp(table, i32x4.add(first, far)), x, y, z, later),
    ew,
  );
  const high = between(
    slope4(lookUp(table, i32x4.add(second, near)), x, y, beyond, w),
    slope4(lookUp(table, i32x4.add(second, far)), x, y, beyond, later),
    ew,
  );
  return between(low, high, eased(z));
}
