import { quickLinearToSrgb } from '../../color/srgb.ts';
import type { LayerChannel } from '../channels.ts';
import type { Stack } from '../stack.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';

/** Values of the texels of a block by channel, in planes. */
export type BlockState = Partial<Record<LayerChannel, Float32Array>>;

/** What a layer lays down, block by block. */
export interface BlockContent {
  channels: readonly LayerChannel[];
  /** Takes up a block. @returns false where it lies nowhere on it */
  begin?(block: TexelBlock): boolean;
  /** Multiplies the mask, for content that has an opacity or an edge of its own. */
  alpha?: Float32Array;
  /** The same for one channel, where each is covered by itself. */
  alphaOf?(channel: LayerChannel): Float32Array;
  /**
   * Values of one of its channels, in planes: colours as they are mixed, heights in millimetres, normals as unit vectors
   * in tangent space.
   * @param below what the layer lies on
   */
  read(channel: LayerChannel, block: TexelBlock, out: Float32Array, below: BlockState): void;
}

/** Turns light into colours as they are mixed, in planes, in place. */
export function asMixed(mixing: Stack['mixing'], colors: Float32Array, count: number): void {
  if (mixing === 'light') return;
  for (let k = 0; k < 3; k++) {
    for (let i = k * TEXELS; i < k * TEXELS + count; i++) colors[i] = quickLinearToSrgb(Math.max(0, colors[i]!));
  }
}

/** One value for all texels of a block. */
export function fillPlanes(values: readonly number[], count: number, out: Float32Array): void {
  values.forEach((value, k) => out.fill(value, k * TEXELS, k * TEXELS + count));
}
