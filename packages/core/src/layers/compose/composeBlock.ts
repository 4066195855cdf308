import { GROUND, isOwnMask, widthOf, type LayerChannel } from '../channels.ts';
import { layDetail, layHeights, layNormals, layValues } from './blending.ts';
import type { BlockContent, BlockState } from '../content/blockContent.ts';
import { adjustmentContent } from '../content/adjustmentContent.ts';
import { fieldContent } from '../content/fieldContent.ts';
import { mapsContent } from '../content/mapsContent.ts';
import { pictureContent } from '../content/pictureContent.ts';
import { plainContent } from '../content/plainContent.ts';
import { tilingContent } from '../content/tilingContent.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import { paintedContent } from '../painting/paintedContent.ts';
import { requireStrokes } from '../painting/requireStrokes.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { layerMask } from '../mask/layerMask.ts';
import type { Layer, Stack } from '../stack.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';

/**
 * The channels of a block, and `relief`: heights that layers have added, which become slopes. Heights of the image set's
 * own maps are not in it, for those maps have their normals already.
 */
export interface ComposedBlock {
  channels: BlockState;
  relief: Float32Array | null;
}

/**
 * Lays one layer onto the texels of a block.
 * @param stateOf what lies there; asked for by a layer only where it lies
 * @returns false where it lies nowhere on the block
 */
export type LayOn = (block: TexelBlock, stateOf: () => ComposedBlock) => boolean;

/** A block whose every texel is bare ground. */
export function bareBlock(channels: readonly LayerChannel[]): ComposedBlock {
  const state: ComposedBlock = {
    channels: {},
    relief: channels.includes('height') ? new Float32Array(TEXELS) : null,
  };
  for (const channel of channels) {
    const planes = new Float32Array(TEXELS * widthOf(channel));
    GROUND[channel].forEach((value, k) => planes.fill(value, k * TEXELS, (k + 1) * TEXELS));
    state.channels[channel] = planes;
  }
  return state;
}

/**
 * Makes layers ready to be laid on, block by block.
 * @param channels those that are wanted; others are not computed
 * @throws missing/not-found, input/other-topology, input/bad-settings
 */
export function layersToLay(
  layers: readonly Layer[],
  channels: readonly LayerChannel[],
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): LayOn[] {
  const values = new Float32Array(TEXELS * 3);
  const before = new Float32Array(TEXELS);
  const covered = new Float32Array(TEXELS);
  return layers
    .filter(({ visible, opacity }) => visible && opacity > 0)
    .map((layer): LayOn => {
      const mask = maskOf(layer, tile, inputs);
      if (layer.content === 'group') {
        return group(layersToLay(layer.layers, channels, tile, inputs, mixing), mask, channels);
      }
      const content = contentOf(layer, tile, inputs, mixing);
      const written = content.channels.filter((channel) => channels.includes(channel));
      const strength = new Float32Array(TEXELS);
      return (block, stateOf) => {
        if (!mask(block, strength) || content.begin?.(block) === false) return false;
        const state = stateOf();
        if (content.alpha) for (let i = 0; i < block.count; i++) strength[i]! *= content.alpha[i]!;
        for (const channel of written) {
          content.read(channel, block, values, state.channels);
          const own = content.alphaOf?.(channel);
          if (own) for (let i = 0; i < block.count; i++) covered[i] = strength[i]! * own[i]!;
          lay(layer, channel, block.count, state, values, own ? covered : strength, before);
        }
        return true;
      };
    });
}

function lay(
  layer: Layer,
  channel: LayerChannel,
  count: number,
  { channels, relief }: ComposedBlock,
  values: Float32Array,
  strength: Float32Array,
  before: Float32Array,
): void {
  const below = channels[channel]!;
  if (channel === 'height') {
    const counts = relief && layer.content !== 'maps';
    if (counts) before.set(below);
    layHeights(layer.heightBlend, below, values, strength, count);
    if (counts) for (let i = 0; i < count; i++) relief[i]! += below[i]! - before[i]!;
  } else if (channel === 'normal') {
    const lays = layer.normalBlend === 'detail' ? layDetail : layNormals;
    lays(below, values, strength, count);
  } else {
    // Where a layer lies is told by its mask, however its colours blend.
    const usual = isOwnMask(channel) ? 'normal' : layer.blend;
    layValues(layer.blends[channel] ?? usual, widthOf(channel), below, values, strength, count);
  }
}

/** How strongly a layer lies on each texel. @returns false where it lies on none */
function maskOf(
  layer: Layer,
  tile: LayeredTile,
  inputs: LayerInputs,
): (block: TexelBlock, out: Float32Array) => boolean {
  const mask: BlockValues | null = layerMask(layer, tile, inputs);
  const { opacity } = layer;
  if (!mask) {
    return ({ count }, out) => {
      out.fill(opacity, 0, count);
      return true;
    };
  }
  return (block, out) => {
    mask(block, out);
    let most = 0;
    for (let i = 0; i < block.count; i++) {
      out[i]! *= opacity;
      if (out[i]! > most) most = out[i]!;
    }
    return most > 0;
  };
}

/** What a layer lays down, ready to be asked block by block. @throws missing/not-found, input/bad-settings */
export function contentOf(
  layer: Exclude<Layer, { content: 'group' }>,
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): BlockContent {
  switch (layer.content) {
    case 'plain':
      return plainContent(layer, mixing);
    case 'tiling':
      return tilingContent(layer, tile, inputs, mixing);
    case 'picture':
      return pictureContent(layer, tile, inputs, mixing);
    case 'field':
      return fieldContent(layer, tile, mixing);
    case 'painted':
      return paintedContent(requireStrokes(layer.strokes, inputs), layer.channels, tile, inputs, mixing);
    case 'maps':
      return mapsContent(layer, inputs, mixing);
    case 'adjustment':
      return adjustmentContent(layer, inputs, mixing);
  }
}

/** Layers under one mask: between what was there before and what they make of it. */
function group(
  layers: readonly LayOn[],
  mask: (block: TexelBlock, out: Float32Array) => boolean,
  channels: readonly LayerChannel[],
): LayOn {
  const strength = new Float32Array(TEXELS);
  const saved = bareBlock(channels);
  return (block, stateOf) => {
    if (!mask(block, strength)) return false;
    const state = stateOf();
    copyBlock(state, saved);
    let lies = false;
    for (const lays of layers) lies = lays(block, () => state) || lies;
    if (lies) mixBlocks(saved, state, strength, block.count);
    return lies;
  };
}

function copyBlock(from: ComposedBlock, to: ComposedBlock): void {
  for (const [channel, planes] of Object.entries(from.channels)) to.channels[channel as LayerChannel]!.set(planes);
  if (from.relief) to.relief!.set(from.relief);
}

/** Goes back towards what was there before, where the mask is less than 1. */
export function mixBlocks(before: ComposedBlock, after: ComposedBlock, mask: Float32Array, count: number): void {
  for (const [name, planes] of Object.entries(after.channels)) {
    const channel = name as LayerChannel;
    const old = before.channels[channel]!;
    if (channel === 'normal') {
      const made = planes.slice();
      planes.set(old);
      layNormals(planes, made, mask, count);
      continue;
    }
    for (let k = 0; k < widthOf(channel) * TEXELS; k += TEXELS) {
      for (let i = 0; i < count; i++) planes[k + i] = old[k + i]! + (planes[k + i]! - old[k + i]!) * mask[i]!;
    }
  }
  if (!after.relief) return;
  const old = before.relief!;
  for (let i = 0; i < count; i++) after.relief[i] = old[i]! + (after.relief[i]! - old[i]!) * mask[i]!;
}
