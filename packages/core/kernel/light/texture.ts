// Pictures of materials, several channels side by side in every texel, each with its halves: looked up over the footprint
// of a sample (trilinear filtering: Williams, "Pyramidal Parametrics", 1983).
import { tangents, TEXTURE } from './scene';
import { faceArea, findLayoutArea, layoutArea, placeU, placeV, rawX, rawY, rawZ } from './surface';

/** What was looked up last: colour, and factors of roughness and metal. */
export let pictureColor: v128 = f32x4(0, 0, 0, 0);
export let pictureRoughness: f64 = 1;
export let pictureMetallic: f64 = 1;
/** The unit normal, if a picture bends it. */
export let isBent: bool = false;
export let bentX: f64 = 0;
export let bentY: f64 = 0;
export let bentZ: f64 = 1;

/** Parts of a texture's record: src/light/packedPictures.ts lays it out. */
const LEVELS: usize = 0;
const WRAP_U: usize = 4;
const WRAP_V: usize = 8;
/** Texels for each unit of UVs squared, as the picture is laid. */
const TEXELS: usize = 12;
const NORMAL_SCALE: usize = 16;
/** 0 without a normal picture, 1 in tangent space, 2 in object space. */
const NORMAL: usize = 20;
const TRANSFORM: usize = 24;
/** Address, width and height of each level. */
const LEVEL_TABLE: usize = 72;
const LEVEL_BYTES: usize = 16;
/** Eight whole numbers of 16 bits: red, green, blue, roughness; x, y, z of the normal, metallic. */
const TEXEL_BYTES: usize = 16;

const CLAMP: u32 = 0;
const REPEAT: u32 = 1;

let first: v128 = f32x4(0, 0, 0, 0);
let second: v128 = f32x4(0, 0, 0, 0);

/**
 * Looks up what a place of a triangle is made of; which is the one that is stood on and looked at.
 * @param width of the sample, in mesh units
 */
export function lookUp(material: usize, triangle: u32, wb: f64, wc: f64, width: f64): void {
  const texture = <usize>load<u32>(material, TEXTURE);
  const t = texture + TRANSFORM;
  const u = load<f64>(t) * placeU + load<f64>(t, 8) * placeV + load<f64>(t, 16);
  const v = load<f64>(t, 24) * placeU + load<f64>(t, 32) * placeV + load<f64>(t, 40);
  findLayoutArea();
  const area = faceArea > 0 ? faceArea : 1;
  const texels = (width * width * layoutArea * <f64>load<f32>(texture, TEXELS)) / area;
  const last = <f64>(load<u32>(texture, LEVELS) - 1);
  const level = max<f64>(0, min<f64>(last, logarithm(texels) * 0.5));
  const lower = floor<f64>(level);
  const share = level - lower;
  first = f32x4.splat(0);
  second = f32x4.splat(0);
  addLevel(texture, <usize>lower, u, v, 1 - share);
  if (share > 0) addLevel(texture, <usize>lower + 1, u, v, share);
  pictureColor = f32x4.replace_lane(first, 3, 0);
  pictureRoughness = <f64>f32x4.extract_lane(first, 3);
  pictureMetallic = <f64>f32x4.extract_lane(second, 3);
  bend(texture, triangle, wb, wc);
}

/** Logarithm of base 2 of a number above 0, to about 0.01: as near as a level need be. */
function logarithm(x: f64): f64 {
  if (!(x > 1)) return 0;
  const bits = reinterpret<u64>(x);
  const exponent = <f64>(<i64>(bits >> 52) - 1023);
  const m = reinterpret<f64>((bits & 0x000fffffffffffff) | 0x3ff0000000000000);
  return exponent + (m - 1) * (1.3465 - 0.3465 * (m - 1));
}

/** Adds a share of what lies between the four nearest texels of a level. */
function addLevel(texture: usize, number: usize, u: f64, v: f64, share: f64): void {
  const entry = texture + LEVEL_TABLE + number * LEVEL_BYTES;
  const texels = <usize>load<u32>(entry);
  const width = load<i32>(entry, 4);
  const height = load<i32>(entry, 8);
  const x = u * <f64>width - 0.5;
  const y = (1 - v) * <f64>height - 0.5;
  const left = floor<f64>(x);
  const top = floor<f64>(y);
  const fx = x - left;
  const fy = y - top;
  const wrapU = load<u32>(texture, WRAP_U);
  const wrapV = load<u32>(texture, WRAP_V);
  const x0 = wrapped(<i32>left, width, wrapU);
  const x1 = wrapped(<i32>left + 1, width, wrapU);
  const above = texels + (<usize>wrapped(<i32>top, height, wrapV) * <usize>width * TEXEL_BYTES);
  const below = texels + (<usize>wrapped(<i32>top + 1, height, wrapV) * <usize>width * TEXEL_BYTES);
  const scale = share / 65535.0;
  addTexel(above + <usize>x0 * TEXEL_BYTES, (1 - fx) * (1 - fy) * scale);
  addTexel(above + <usize>x1 * TEXEL_BYTES, fx * (1 - fy) * scale);
  addTexel(below + <usize>x0 * TEXEL_BYTES, (1 - fx) * fy * scale);
  addTexel(below + <usize>x1 * TEXEL_BYTES, fx * fy * scale);
}

@inline
function addTexel(texel: usize, weight: f64): void {
  const values = v128.load(texel);
  const by = f32x4.splat(<f32>weight);
  first = f32x4.add(first, f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(values)), by));
  second = f32x4.add(second, f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(values)), by));
}

/** The texel row or column that stands for one beyond the border. */
function wrapped(index: i32, size: i32, wrap: u32): i32 {
  if (<u32>index < <u32>size) return index;
  if (wrap === CLAMP) return index < 0 ? 0 : size - 1;
  const period = wrap === REPEAT ? size : 2 * size;
  const rest = index % period;
  const within = rest < 0 ? rest + period : rest;
  return within < size ? within : 2 * size - 1 - within;
}

/** Bends the normal as a MikkTSpace shader would (Mikkelsen 2008). */
function bend(texture: usize, triangle: u32, wb: f64, wc: f64): void {
  isBent = false;
  const kind = load<u32>(texture, NORMAL);
  if (kind === 0) return;
  const scale = <f64>load<f32>(texture, NORMAL_SCALE);
  const x = (<f64>f32x4.extract_lane(second, 0) * 2 - 1) * scale;
  const y = (<f64>f32x4.extract_lane(second, 1) * 2 - 1) * scale;
  const z = <f64>f32x4.extract_lane(second, 2) * 2 - 1;
  if (kind === 2) {
    setBent(x, y, z);
    return;
  }
  const t = tangents + <usize>triangle * 48;
  const wa = 1 - wb - wc;
  const tx = mixedTangent(t, wa, wb, wc);
  const ty = mixedTangent(t + 4, wa, wb, wc);
  const tz = mixedTangent(t + 8, wa, wb, wc);
  const sign = <f64>load<f32>(t, 12);
  const bx = sign * (rawY * tz - rawZ * ty);
  const by = sign * (rawZ * tx - rawX * tz);
  const bz = sign * (rawX * ty - rawY * tx);
  setBent(tx * x + bx * y + rawX * z, ty * x + by * y + rawY * z, tz * x + bz * y + rawZ * z);
}

@inline
function mixedTangent(at: usize, wa: f64, wb: f64, wc: f64): f64 {
  return <f64>load<f32>(at) * wa + <f64>load<f32>(at, 16) * wb + <f64>load<f32>(at, 32) * wc;
}

function setBent(x: f64, y: f64, z: f64): void {
  const square = x * x + y * y + z * z;
  if (!(square > 0)) return;
  const inverse = 1 / sqrt<f64>(square);
  isBent = true;
  bentX = x * inverse;
  bentY = y * inverse;
  bentZ = z * inverse;
}

