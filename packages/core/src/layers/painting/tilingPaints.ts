import { widthOf, type LayerChannel } from '../channels.ts';
import type { BlockContent } from '../content/blockContent.ts';
import { tilingContent } from '../content/tilingContent.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import type { Stack } from '../stack.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';
import type { TilingPaint } from './stroke.ts';

/** A tiling material as paint: what of it lies on the texels of the block that is gone over. */
export interface TilingOnBlock {
  channels: readonly LayerChannel[];
  /** Its values on the texels, in planes. */
  read(channel: LayerChannel): Float32Array;
}

/**
 * The tiling materials that strokes of a layer are painted with. Strokes of one paint share it, and a channel is looked up
 * once for each block, for many strokes lie over one another.
 */
export class TilingPaints {
  private readonly tile: LayeredTile;
  private readonly inputs: LayerInputs;
  private readonly mixing: Stack['mixing'];
  private readonly known = new Map<string, TilingOnBlock & { begin: (block: TexelBlock) => void }>();

  constructor(tile: LayeredTile, inputs: LayerInputs, mixing: Stack['mixing']) {
    this.tile = tile;
    this.inputs = inputs;
    this.mixing = mixing;
  }

  /** @throws missing/not-found for a material without maps */
  of(paint: TilingPaint): TilingOnBlock {
    const key = JSON.stringify(paint);
    const known = this.known.get(key);
    if (known) return known;
    const made = onBlock(tilingContent(paint, this.tile, this.inputs, this.mixing));
    this.known.set(key, made);
    return made;
  }

  /** What is read from here on is of this block. */
  begin(block: TexelBlock): void {
    for (const each of this.known.values()) each.begin(block);
  }
}

function onBlock(content: BlockContent): TilingOnBlock & { begin: (block: TexelBlock) => void } {
  const planes = new Map<LayerChannel, Float32Array>();
  const done = new Set<LayerChannel>();
  let at: TexelBlock | null = null;
  let isProjected = false;
  return {
    channels: content.channels,
    begin(block) {
      at = block;
      isProjected = false;
      done.clear();
    },
    read(channel) {
      const plane = planes.get(channel) ?? new Float32Array(TEXELS * widthOf(channel));
      planes.set(channel, plane);
      if (done.has(channel)) return plane;
      if (!isProjected) content.begin?.(at!);
      isProjected = true;
      done.add(channel);
      content.read(channel, at!, plane, {});
      return plane;
    },
  };
}
