import { quickLinearToSrgb } from '../../color/srgb.ts';
import { isColorChannel } from '../channels.ts';
import { contentOf } from './composeBlock.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { layerMask, maskSteps } from '../mask/layerMask.ts';
import { everyLayer, shapesNeighbours, type Layer, type Stack } from '../stack.ts';
import { TEXELS, TexelBlock } from '../surface/texelBlock.ts';

/** What one layer is along a line over the surface. */
export interface Stratum {
  id: string;
  /** How strongly it lies at each place, 0 to 1; its groups are not counted. */
  strength: Float32Array;
  /** Its own colour at each place, as it is seen: r, g, b after each other; null for what has no colour. */
  colors: Float32Array | null;
}

/** Places on a surface: the triangle of each, and the weights of its second and third corner. */
export interface SurfacePlaces {
  triangles: Uint32Array;
  weights: Float64Array;
}

/**
 * A section through a stack along some places of one tile: where each layer lies, and in which colour. What a mask blurs
 * or grows is left out of it, for that needs more than these places.
 * @returns a stratum for each layer, the lowest first; those that lack something are as if they lay nowhere
 */
export function sectionOf(
  { layers, mixing }: Stack,
  tile: LayeredTile,
  inputs: LayerInputs,
  { triangles, weights }: SurfacePlaces,
): Stratum[] {
  const block = new TexelBlock(tile);
  block.standOn(triangles, weights);
  const values = new Float32Array(TEXELS * 3);
  return [...everyLayer(layers)].map((layer): Stratum => {
    const strength = new Float32Array(block.count);
    let colors: Float32Array | null = null;
    try {
      strength.set(strengthOf(layer, block, tile, inputs).subarray(0, block.count));
      if (layer.content !== 'group') colors = colorsOf(layer, block, tile, inputs, mixing, values, strength);
    } catch {
      // What is missing is told by whoever composes the stack.
    }
    return { id: layer.id, strength, colors };
  });
}

function strengthOf(layer: Layer, block: TexelBlock, tile: LayeredTile, inputs: LayerInputs): Float32Array {
  const strength = new Float32Array(TEXELS).fill(1);
  const mask = shapesNeighbours(layer.mask.shaping)
    ? maskSteps(layer.mask, tile, inputs)
    : layerMask(layer, tile, inputs);
  mask?.(block, strength);
  for (let i = 0; i < block.count; i++) strength[i]! *= layer.opacity;
  return strength;
}

function colorsOf(
  layer: Exclude<Layer, { content: 'group' }>,
  block: TexelBlock,
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
  values: Float32Array,
  strength: Float32Array,
): Float32Array | null {
  if (layer.content === 'adjustment') return null;
  const content = contentOf(layer, tile, inputs, mixing);
  const channel = content.channels.find(isColorChannel) ?? content.channels.find((each) => each === 'roughness');
  if (!channel) {
    if (content.channels.length === 0) strength.fill(0);
    return null;
  }
  content.begin?.(block);
  content.read(channel, block, values, {});
  // What is not painted, or beyond a picture, lies nowhere.
  const alpha = content.alphaOf?.(channel) ?? content.alpha;
  if (alpha) for (let i = 0; i < block.count; i++) strength[i]! *= alpha[i]!;
  const isLight = isColorChannel(channel) && mixing === 'light';
  return Float32Array.from({ length: block.count * 3 }, (_, i) => {
    const value = values[isColorChannel(channel) ? (i % 3) * TEXELS + Math.floor(i / 3) : Math.floor(i / 3)]!;
    return isLight ? quickLinearToSrgb(Math.max(0, value)) : value;
  });
}
