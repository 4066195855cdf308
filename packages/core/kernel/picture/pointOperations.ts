// What is done to each texel by itself, step by step, on stretches that stay in the nearest cache: each channel is a plane
// there.
import { addressAt, wholeAt } from '../numbers';
import { cubeRoot, power, toLight, toScreen } from './functions';

/** Texels of a stretch. */
const STRETCH = 512;
const PLANE: usize = STRETCH * 4;
/** A step: which, and up to seven numbers. */
const STEP_BYTES: usize = 32;

/**
 * Some texels of a picture. Numbers: picture, channels, result, its channels, texels, texels of a task, steps, how many,
 * how many channels are colours.
 * @param room four planes of a stretch
 */
export function pointOperations(numbers: usize, task: i32, room: usize): void {
  const channels = wholeAt(numbers, 1);
  const channelsOut = wholeAt(numbers, 3);
  const atOnce = wholeAt(numbers, 5);
  const steps = addressAt(numbers, 6);
  const stepCount = wholeAt(numbers, 7);
  const colors = wholeAt(numbers, 8);
  const end = min(wholeAt(numbers, 4), (task + 1) * atOnce);
  for (let from = task * atOnce; from < end; from += STRETCH) {
    const texels = min(STRETCH, end - from);
    const picture = addressAt(numbers, 0) + (<usize>(from * channels) << 2);
    const result = addressAt(numbers, 2) + (<usize>(from * channelsOut) << 2);
    apart(picture, channels, texels, room);
    for (let k = 0; k < stepCount; k++) step(steps + <usize>k * STEP_BYTES, room, colors, texels);
    together(room, channelsOut, texels, result);
  }
}

/** Channels as planes. */
function apart(picture: usize, channels: i32, texels: i32, planes: usize): void {
  if (channels === 1) {
    memory.copy(planes, picture, <usize>texels << 2);
    return;
  }
  if (channels === 3) {
    for (let i = 0; i < texels; i += 4) {
      const at = picture + <usize>i * 12;
      const a = v128.load(at);
      const b = v128.load(at, 16);
      const c = v128.load(at, 32);
      const to = planes + (<usize>i << 2);
      const ab = v128.shuffle<f32>(a, b, 0, 3, 6, 6);
      v128.store(to, v128.shuffle<f32>(ab, c, 0, 1, 2, 5));
      const gb = v128.shuffle<f32>(a, b, 1, 4, 7, 7);
      v128.store(to + PLANE, v128.shuffle<f32>(gb, c, 0, 1, 2, 6));
      const bb = v128.shuffle<f32>(a, b, 2, 5, 5, 5);
      v128.store(to + 2 * PLANE, v128.shuffle<f32>(bb, c, 0, 1, 4, 7));
    }
    return;
  }
  for (let i = 0; i < texels; i++) {
    const at = picture + (<usize>(i * channels) << 2);
    for (let c: usize = 0; c < <usize>channels; c++) {
      store<f32>(planes + c * PLANE + (<usize>i << 2), load<f32>(at + (c << 2)));
    }
  }
}

/** Planes as channels of a result. */
function together(planes: usize, channels: i32, texels: i32, result: usize): void {
  if (channels === 1) {
    memory.copy(result, planes, <usize>texels << 2);
    return;
  }
  let i = 0;
  if (channels === 3) {
    for (; i + 4 <= texels; i += 4) {
      const from = planes + (<usize>i << 2);
      const r = v128.load(from);
      const g = v128.load(from + PLANE);
      const b = v128.load(from + 2 * PLANE);
      const low = v128.shuffle<f32>(r, g, 0, 4, 1, 5);
      const high = v128.shuffle<f32>(r, g, 2, 6, 3, 7);
      const at = result + <usize>i * 12;
      v128.store(at, v128.shuffle<f32>(low, b, 0, 1, 4, 2));
      v128.store(at, v128.shuffle<f32>(v128.shuffle<f32>(low, b, 3, 5, 3, 5), high, 0, 1, 4, 5), 16);
      v128.store(at, v128.shuffle<f32>(b, high, 2, 6, 7, 3), 32);
    }
  }
  for (; i < texels; i++) {
    const at = result + (<usize>(i * channels) << 2);
    for (let c: usize = 0; c < <usize>channels; c++) {
      store<f32>(at + (c << 2), load<f32>(planes + c * PLANE + (<usize>i << 2)));
    }
  }
}

function step(at: usize, planes: usize, colors: i32, texels: i32): void {
  const end = <usize>((texels + 3) & ~3) << 2;
  const p = v128.load32_splat(at, 4);
  const q = v128.load32_splat(at, 8);
  const table = <usize>load<u32>(at, 8);
  switch (<i32>load<f32>(at)) {
    case 0:
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) {
          v128.store(plane + i, f32x4.add(f32x4.mul(v128.load(plane + i), p), q));
        }
      }
      break;
    case 1:
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) {
          v128.store(plane + i, f32x4.pmin(q, f32x4.pmax(p, v128.load(plane + i))));
        }
      }
      break;
    case 2:
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) v128.store(plane + i, power(v128.load(plane + i), p));
      }
      break;
    case 3:
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) {
          const value = f32x4.pmax(f32x4.splat(0), v128.load(plane + i));
          const isBright = v128.any_true(f32x4.gt(value, f32x4.splat(1)));
          v128.store(plane + i, isBright ? toScreen(value) : fromTable(table, f32x4.sqrt(value)));
        }
      }
      break;
    case 4:
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) {
          const value = f32x4.pmax(f32x4.splat(0), v128.load(plane + i));
          const isBright = v128.any_true(f32x4.gt(value, f32x4.splat(1)));
          v128.store(plane + i, isBright ? toLight(value) : fromTable(table, value));
        }
      }
      break;
    case 5: {
      const pieces = <usize>load<f32>(at, 4);
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) v128.store(plane + i, onCurve(table, pieces, v128.load(plane + i)));
      }
      break;
    }
    case 6:
      saturate(planes, end, p);
      break;
    case 7:
      toOklab(planes, end, colors);
      break;
    case 8:
      turnHue(planes, end, p, q);
      break;
    case 9:
      fromOklab(planes, end);
      break;
    case 10: {
      const r = v128.load32_splat(at, 12);
      for (let i: usize = 0; i < end; i += 16) {
        const red = f32x4.mul(v128.load(planes + i), p);
        const green = f32x4.mul(v128.load(planes + PLANE + i), q);
        const blue = f32x4.mul(v128.load(planes + 2 * PLANE + i), r);
        v128.store(planes + i, f32x4.add(f32x4.add(red, green), blue));
      }
      break;
    }
    case 11:
      for (let c = 0; c < colors; c++) {
        const plane = planes + <usize>c * PLANE;
        for (let i: usize = 0; i < end; i += 16) {
          const value = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), v128.load(plane + i)));
          v128.store(plane + i, fromTable(table, f32x4.sqrt(value)));
        }
      }
      break;
    default:
      unreachable();
  }
}

/** Steps of a table from 0 to 1, between which a curve is as good as straight; a table stays in the nearest cache. */
const TABLE_STEPS: f32 = 4096;

/** Values 0 to 1 through a table. */
@inline
function fromTable(table: usize, value: v128): v128 {
  const place = f32x4.mul(value, f32x4.splat(TABLE_STEPS));
  const step = i32x4.trunc_sat_f32x4_s(place);
  const at = i32x4.shl(step, 2);
  let first = v128.load64_zero(table + <usize>i32x4.extract_lane(at, 0));
  first = v128.load_lane<u64>(table + <usize>i32x4.extract_lane(at, 1), first, 1);
  let second = v128.load64_zero(table + <usize>i32x4.extract_lane(at, 2));
  second = v128.load_lane<u64>(table + <usize>i32x4.extract_lane(at, 3), second, 1);
  const low = v128.shuffle<f32>(first, second, 0, 2, 4, 6);
  const high = v128.shuffle<f32>(first, second, 1, 3, 5, 7);
  const share = f32x4.sub(place, f32x4.convert_i32x4_s(step));
  return f32x4.add(low, f32x4.mul(share, f32x4.sub(high, low)));
}

/**
 * A curve of cubic pieces. The table has for each piece where it begins and the four factors of its polynomial in the
 * distance from there; values before the first are those of its begin.
 */
@inline
function onCurve(table: usize, pieces: usize, value: v128): v128 {
  let begin = v128.load32_splat(table);
  let a = v128.load32_splat(table, 4);
  let b = v128.load32_splat(table, 8);
  let c = v128.load32_splat(table, 12);
  let d = v128.load32_splat(table, 16);
  const inside = f32x4.pmax(begin, value);
  for (let k: usize = 1; k < pieces; k++) {
    const piece = table + k * 20;
    const from = v128.load32_splat(piece);
    const isHere = f32x4.ge(inside, from);
    begin = v128.bitselect(from, begin, isHere);
    a = v128.bitselect(v128.load32_splat(piece, 4), a, isHere);
    b = v128.bitselect(v128.load32_splat(piece, 8), b, isHere);
    c = v128.bitselect(v128.load32_splat(piece, 12), c, isHere);
    d = v128.bitselect(v128.load32_splat(piece, 16), d, isHere);
  }
  const x = f32x4.sub(inside, begin);
  return f32x4.add(a, f32x4.mul(x, f32x4.add(b, f32x4.mul(x, f32x4.add(c, f32x4.mul(x, d))))));
}

/** Moves colours away from their own grey (luma of Rec. 709), or towards it. */
function saturate(planes: usize, end: usize, amount: v128): void {
  for (let i: usize = 0; i < end; i += 16) {
    const r = v128.load(planes + i);
    const g = v128.load(planes + PLANE + i);
    const b = v128.load(planes + 2 * PLANE + i);
    const grey = f32x4.add(
      f32x4.add(f32x4.mul(r, f32x4.splat(0.2126)), f32x4.mul(g, f32x4.splat(0.7152))),
      f32x4.mul(b, f32x4.splat(0.0722)),
    );
    v128.store(planes + i, f32x4.add(grey, f32x4.mul(f32x4.sub(r, grey), amount)));
    v128.store(planes + PLANE + i, f32x4.add(grey, f32x4.mul(f32x4.sub(g, grey), amount)));
    v128.store(planes + 2 * PLANE + i, f32x4.add(grey, f32x4.mul(f32x4.sub(b, grey), amount)));
  }
}

@inline
function mixed(r: v128, g: v128, b: v128, kr: f32, kg: f32, kb: f32): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(r, f32x4.splat(kr)), f32x4.mul(g, f32x4.splat(kg))),
    f32x4.mul(b, f32x4.splat(kb)),
  );
}

/** From linear sRGB (Ottosson 2020); grey stands for all three. */
function toOklab(planes: usize, end: usize, colors: i32): void {
  const second: usize = colors < 3 ? 0 : PLANE;
  for (let i: usize = 0; i < end; i += 16) {
    const r = v128.load(planes + i);
    const g = v128.load(planes + second + i);
    const b = v128.load(planes + 2 * second + i);
    const l = cubeRoot(mixed(r, g, b, 0.4122214708, 0.5363325363, 0.0514459929));
    const m = cubeRoot(mixed(r, g, b, 0.2119034982, 0.6806995451, 0.1073969566));
    const s = cubeRoot(mixed(r, g, b, 0.0883024619, 0.2817188376, 0.6299787005));
    v128.store(planes + i, mixed(l, m, s, 0.2104542553, 0.793617785, -0.0040720468));
    v128.store(planes + PLANE + i, mixed(l, m, s, 1.9779984951, -2.428592205, 0.4505937099));
    v128.store(planes + 2 * PLANE + i, mixed(l, m, s, 0.0259040371, 0.7827717662, -0.808675766));
  }
}

function turnHue(planes: usize, end: usize, cos: v128, sin: v128): void {
  for (let i: usize = 0; i < end; i += 16) {
    const a = v128.load(planes + PLANE + i);
    const b = v128.load(planes + 2 * PLANE + i);
    v128.store(planes + PLANE + i, f32x4.sub(f32x4.mul(a, cos), f32x4.mul(b, sin)));
    v128.store(planes + 2 * PLANE + i, f32x4.add(f32x4.mul(a, sin), f32x4.mul(b, cos)));
  }
}

function fromOklab(planes: usize, end: usize): void {
  for (let i: usize = 0; i < end; i += 16) {
    const L = v128.load(planes + i);
    const a = v128.load(planes + PLANE + i);
    const b = v128.load(planes + 2 * PLANE + i);
    const l = cubed(mixed(L, a, b, 1, 0.3963377774, 0.2158037573));
    const m = cubed(mixed(L, a, b, 1, -0.1055613458, -0.0638541728));
    const s = cubed(mixed(L, a, b, 1, -0.0894841775, -1.291485548));
    v128.store(planes + i, mixed(l, m, s, 4.0767416621, -3.3077115913, 0.2309699292));
    v128.store(planes + PLANE + i, mixed(l, m, s, -1.2684380046, 2.6097574011, -0.3413193965));
    v128.store(planes + 2 * PLANE + i, mixed(l, m, s, -0.0041960863, -0.7034186147, 1.707614701));
  }
}

@inline
function cubed(x: v128): v128 {
  return f32x4.mul(f32x4.mul(x, x), x);
}
