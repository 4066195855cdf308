import { parseColor } from '../../color/ramp.ts';
import { quickLinearToSrgb } from '../../color/srgb.ts';
import { asMixed, fillPlanes, type BlockContent } from '../content/blockContent.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { LAYER_CHANNELS, widthOf, type LayerChannel } from '../channels.ts';
import type { Stack } from '../stack.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';
import { givesNormals, isRetouching, tilingOf, type Stroke } from './stroke.ts';
import { StrokeCoverage } from './strokeCoverage.ts';
import { boxOfBlock } from './texelRows.ts';
import { TilingPaints } from './tilingPaints.ts';

/**
 * Strokes as content: each channel has the values that strokes have laid down, and how much they cover. Erasing takes
 * coverage away.
 */
export function paintedContent(
  strokes: readonly Stroke[],
  wanted: readonly LayerChannel[],
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): BlockContent {
  const paints = new TilingPaints(tile, inputs, mixing);
  const laid = strokes
    .filter((stroke) => !isRetouching(stroke))
    .map((stroke) => {
      const tiling = tilingOf(stroke);
      return {
        cover: new StrokeCoverage(stroke, tile, inputs),
        erases: stroke.brush.tool === 'erase',
        values: valuesOf(stroke, mixing),
        tiling: tiling && paints.of(tiling),
      };
    });
  const channels = wanted.filter((channel) =>
    laid.some(({ values, tiling }) => values.has(channel) || tiling?.channels.includes(channel)),
  );
  const planes = new Map<LayerChannel, { values: Float32Array; alpha: Float32Array }>();
  for (const channel of channels) {
    planes.set(channel, { values: new Float32Array(TEXELS * widthOf(channel)), alpha: new Float32Array(TEXELS) });
  }
  const box = new Float64Array(6);
  const share = new Float32Array(TEXELS);
  return {
    channels,
    begin(block) {
      const { count } = block;
      for (const { alpha } of planes.values()) alpha.fill(0, 0, count);
      boxOfBlock(block, box);
      paints.begin(block);
      let lies = false;
      for (const { cover, erases, values, tiling } of laid) {
        if (!cover.cover(block, box, share)) continue;
        lies ||= !erases;
        for (const [channel, plane] of planes) {
          const value = values.get(channel);
          if (erases) for (let i = 0; i < count; i++) plane.alpha[i]! *= 1 - share[i]!;
          else if (channel === 'normal' && cover.colors && value)
            layOver(plane, inTangentSpace(cover.colors, block), share, count);
          else if (channel === 'basecolor' && cover.colors && !givesNormals(cover.stroke))
            layOver(plane, mixedColors(cover.colors, mixing, count), share, count);
          else if (tiling?.channels.includes(channel)) layOver(plane, tiling.read(channel), share, count);
          else if (value) layOver(plane, fill(value, count), share, count);
        }
      }
      return lies;
    },
    alphaOf: (channel) => planes.get(channel)!.alpha,
    read: (channel, { count }, out) => {
      const { values } = planes.get(channel)!;
      for (let k = 0; k < widthOf(channel) * TEXELS; k += TEXELS) out.set(values.subarray(k, k + count), k);
      if (channel === 'normal') normalise(out, count);
    },
  };
}

/** Paint over paint, as W3C Compositing and Blending has “source over”, with colours that are not premultiplied. */
function layOver(
  { values, alpha }: { values: Float32Array; alpha: Float32Array },
  laid: Float32Array,
  share: Float32Array,
  count: number,
): void {
  for (let i = 0; i < count; i++) {
    const over = share[i]!;
    if (over === 0) continue;
    const covered = alpha[i]! + (1 - alpha[i]!) * over;
    const part = over / covered;
    for (let at = i; at < values.length; at += TEXELS) values[at]! += (laid[at]! - values[at]!) * part;
    alpha[i] = covered;
  }
}

/** Normals that were mixed are of unit length again; where nothing was laid they are level. */
function normalise(planes: Float32Array, count: number): void {
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [planes[i]!, planes[TEXELS + i]!, planes[TEXELS * 2 + i]!];
    const length = Math.hypot(x, y, z);
    planes[i] = length > 0 ? x / length : 0;
    planes[TEXELS + i] = length > 0 ? y / length : 0;
    planes[TEXELS * 2 + i] = length > 0 ? z / length : 1;
  }
}

const laidOver = new Float32Array(TEXELS * 3);

function fill(value: readonly number[], count: number): Float32Array {
  fillPlanes(value, count, laidOver);
  return laidOver;
}

const direction = new Float64Array(3);

/** Directions in space as normals of each texel's tangent space. */
function inTangentSpace(directions: Float32Array, block: TexelBlock): Float32Array {
  for (let i = 0; i < block.count; i++) {
    const [x, y, z] = [directions[i]!, directions[TEXELS + i]!, directions[TEXELS * 2 + i]!];
    block.toTangentSpace(i, x, y, z, direction);
    const length = Math.hypot(direction[0]!, direction[1]!, direction[2]!) || 1;
    for (let k = 0; k < 3; k++) laidOver[k * TEXELS + i] = direction[k]! / length;
  }
  return laidOver;
}

function mixedColors(colors: Float32Array, mixing: Stack['mixing'], count: number): Float32Array {
  laidOver.set(colors);
  asMixed(mixing, laidOver, count);
  return laidOver;
}

/** What a stroke lays down by channel; colours as they are mixed. @throws input/bad-settings for what is no colour */
function valuesOf({ paint, brush }: Stroke, mixing: Stack['mixing']): Map<LayerChannel, readonly number[]> {
  const values = new Map<LayerChannel, readonly number[]>();
  for (const channel of LAYER_CHANNELS) {
    const value = (paint as Partial<Record<LayerChannel, number | string>>)[channel];
    if (typeof value === 'number') values.set(channel, [value]);
    else if (typeof value === 'string') {
      values.set(
        channel,
        parseColor(value).map((light) => (mixing === 'seen' ? quickLinearToSrgb(light) : light)),
      );
    }
  }
  // The picture of the brush is the colour, whatever else it was.
  if (brush.picture?.gives === 'colour') values.set('basecolor', [0, 0, 0]);
  if (givesNormals({ brush })) values.set('normal', [0, 0, 1]);
  return values;
}
