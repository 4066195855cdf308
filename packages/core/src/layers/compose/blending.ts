import { blended, type BlendMode } from '../../image/blend.ts';
import { blendColor, COLOR_BLEND_MODES, type ColorBlendMode } from '../../image/blendColor.ts';
import type { HeightBlend, LayerBlend } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';

// One layer on what lies below it, for the texels of a block: below + (blend(below, above) − below) · mask, as W3C
// Compositing and Blending Level 1 has it for what is opaque.

const isColorMode = (mode: LayerBlend): mode is ColorBlendMode =>
  (COLOR_BLEND_MODES as readonly string[]).includes(mode);

/**
 * Colours or shares.
 * @param width values of a texel, 1 or 3, in planes
 * @param below changed in place
 */
export function layValues(
  mode: LayerBlend,
  width: 1 | 3,
  below: Float32Array,
  above: Float32Array,
  mask: Float32Array,
  count: number,
): void {
  if (isColorMode(mode)) {
    // A single value has no hue or saturation; its luminosity is itself.
    if (width === 3) layColors(mode, below, above, mask, count);
    else if (mode === 'luminosity') layPlane('normal', below, above, mask, count);
    return;
  }
  for (let k = 0; k < width; k++) {
    const from = k * TEXELS;
    layPlane(mode, below.subarray(from, from + count), above.subarray(from, from + count), mask, count);
  }
}

/** Simple modes are written out, so that they run at the speed of memory. */
function layPlane(mode: BlendMode, below: Float32Array, above: Float32Array, mask: Float32Array, count: number): void {
  switch (mode) {
    case 'normal':
      for (let i = 0; i < count; i++) below[i]! += (above[i]! - below[i]!) * mask[i]!;
      break;
    case 'multiply':
      for (let i = 0; i < count; i++) below[i]! += (below[i]! * above[i]! - below[i]!) * mask[i]!;
      break;
    case 'screen':
      for (let i = 0; i < count; i++) below[i]! += (above[i]! - below[i]! * above[i]!) * mask[i]!;
      break;
    default:
      for (let i = 0; i < count; i++) below[i]! += (blended(mode, below[i]!, above[i]!) - below[i]!) * mask[i]!;
  }
}

function layColors(
  mode: ColorBlendMode,
  below: Float32Array,
  above: Float32Array,
  mask: Float32Array,
  count: number,
): void {
  const under = new Float64Array(3);
  const over = new Float64Array(3);
  const result = new Float64Array(3);
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) {
      under[k] = below[k * TEXELS + i]!;
      over[k] = above[k * TEXELS + i]!;
    }
    blendColor(mode, under, over, result);
    for (let k = 0; k < 3; k++) below[k * TEXELS + i]! += (result[k]! - under[k]!) * mask[i]!;
  }
}

/** Heights in millimetres. */
export function layHeights(
  mode: HeightBlend,
  below: Float32Array,
  above: Float32Array,
  mask: Float32Array,
  count: number,
): void {
  switch (mode) {
    case 'add':
      for (let i = 0; i < count; i++) below[i]! += above[i]! * mask[i]!;
      break;
    case 'replace':
      for (let i = 0; i < count; i++) below[i]! += (above[i]! - below[i]!) * mask[i]!;
      break;
    case 'higher':
      for (let i = 0; i < count; i++) below[i]! += Math.max(0, above[i]! - below[i]!) * mask[i]!;
      break;
    case 'lower':
      for (let i = 0; i < count; i++) below[i]! += Math.min(0, above[i]! - below[i]!) * mask[i]!;
      break;
  }
}

/**
 * Normals as detail over others, by reoriented normal mapping (Barré-Brisebois and Hill, "Blending in Detail", 2012): the
 * detail is turned as the base is turned against the surface. Where the mask is less than 1 the detail is flatter.
 * @param below unit vectors in planes, changed in place
 */
export function layDetail(below: Float32Array, detail: Float32Array, mask: Float32Array, count: number): void {
  for (let i = 0; i < count; i++) {
    const share = mask[i]!;
    if (share === 0) continue;
    const ux = -detail[i]! * share;
    const uy = -detail[TEXELS + i]! * share;
    const uz = detail[TEXELS * 2 + i]! * share + 1 - share;
    const tx = below[i]!;
    const ty = below[TEXELS + i]!;
    const tz = below[TEXELS * 2 + i]! + 1;
    const along = (tx * ux + ty * uy + tz * uz) / (tz > 1e-6 ? tz : 1e-6);
    put(below, i, tx * along - ux, ty * along - uy, tz * along - uz);
  }
}

/** Normals in place of others. */
export function layNormals(below: Float32Array, above: Float32Array, mask: Float32Array, count: number): void {
  for (let i = 0; i < count; i++) {
    const share = mask[i]!;
    if (share === 0) continue;
    put(
      below,
      i,
      below[i]! + (above[i]! - below[i]!) * share,
      below[TEXELS + i]! + (above[TEXELS + i]! - below[TEXELS + i]!) * share,
      below[TEXELS * 2 + i]! + (above[TEXELS * 2 + i]! - below[TEXELS * 2 + i]!) * share,
    );
  }
}

function put(normals: Float32Array, i: number, x: number, y: number, z: number): void {
  const length = Math.sqrt(x * x + y * y + z * z);
  if (!(length > 1e-9)) return;
  normals[i] = x / length;
  normals[TEXELS + i] = y / length;
  normals[TEXELS * 2 + i] = z / length;
}
