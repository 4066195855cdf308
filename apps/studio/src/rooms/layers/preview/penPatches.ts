import {
  BlockBoxes,
  CoverageMemory,
  channelsOf,
  everyLayer,
  hasRelief,
  strokesOf,
  layAgain,
  layRelief,
  mapOfChannel,
  onThisThread,
  planesWithin,
  POINT,
  type BlockPlaces,
  type Layer,
  type LayerChannel,
  type LayeredTile,
  type LayerInputs,
  type LayerPlanes,
  type Stack,
  type Stroke,
} from '@zographos/core/layers';
import { padIslands } from '@zographos/core/bake';
import type { Image } from '@zographos/core/image';
import { screenPixels } from '../../../preview/screenPixels.ts';
import { UNDER_PEN } from './underPen.ts';
import type { LayeredPicture } from './layersMessages.ts';

/** A tile as it was composed while the pen was down, with what lies beneath the layers that the pen can change. */
export interface ComposedTile {
  tile: LayeredTile;
  base: LayerPlanes;
  planes: LayerPlanes;
  above: readonly Layer[];
  channels: readonly LayerChannel[];
  inputs: LayerInputs;
  places: Map<number, BlockPlaces> | undefined;
  /** The range that heights are shown over, as it was then: it hangs on the highest of all. */
  heights: Image['range'];
}

/** A part of a map that is another than before. */
export interface Patch {
  x: number;
  y: number;
  width: number;
  height: number;
  maps: Pick<LayeredPicture, 'kind' | 'rgba'>[];
}

/** Composes what a growing stroke changes, and nothing else: a dab costs what it covers, however large the set is. */
export class PenPatches {
  private tiles: ComposedTile[] = [];
  private mixing: Stack['mixing'] = 'seen';
  private readonly boxes = new WeakMap<LayeredTile, BlockBoxes>();
  /** Where the texels of blocks lie, of those that the pen was on last: a pen stays where it is, more or less. */
  private readonly places = new WeakMap<LayeredTile, Map<number, BlockPlaces>>();
  /** Points of the stroke that are composed. */
  private done = 0;

  /** Begins with tiles on which some points of the stroke lie already. */
  begin(tiles: ComposedTile[], mixing: Stack['mixing'], points: number): void {
    this.tiles = tiles.map((each) => ({
      ...each,
      inputs: { ...each.inputs, underPen: { name: UNDER_PEN, memory: new CoverageMemory() } },
    }));
    this.mixing = mixing;
    this.done = points;
  }

  /** @returns the parts that change, by tile; null where all has to be composed again */
  async add(stroke: Stroke): Promise<{ tile: number; patches: Patch[] }[] | null> {
    const { tool } = stroke.brush;
    if (this.tiles.length === 0 || (tool !== 'paint' && tool !== 'erase')) return null;
    const told: { tile: number; patches: Patch[] }[] = [];
    for (const composed of this.tiles) {
      const patches = await this.addToTile(composed, stroke);
      if (!patches) return null;
      told.push({ tile: composed.tile.tile, patches });
    }
    this.done = stroke.points.length / POINT;
    return told;
  }

  private placesOf(tile: LayeredTile, more: number): Map<number, BlockPlaces> {
    const places = this.places.get(tile) ?? new Map<number, BlockPlaces>();
    if (places.size + more > MOST_REMEMBERED) places.clear();
    this.places.set(tile, places);
    return places;
  }

  private async addToTile(composed: ComposedTile, stroke: Stroke): Promise<Patch[] | null> {
    const { tile, base, planes, above, channels, inputs, places } = composed;
    const boxes = this.boxes.get(tile) ?? new BlockBoxes(tile, places);
    this.boxes.set(tile, boxes);
    const under = boxes.under(stroke, this.done);
    if (under.blocks.length === 0) return [];
    const changed = [...everyLayer(above)].flatMap((layer) =>
      strokesOf([own(layer)]).includes(UNDER_PEN) ? channelsOf(layer) : [],
    );
    const slopes = planes.relief !== null && hasRelief(changed);
    // Slopes are laid over what lies beneath them: where they change, whole blocks are composed again.
    const only = slopes ? { blocks: boxes.withNeighbours(under.blocks) } : under;
    const { blocks } = only;
    const known = places ?? this.placesOf(tile, blocks.length);
    const options = { doBlocks: onThisThread(tile, this.mixing, undefined, known, only) };
    if (!(await layAgain({ layers: above }, base, planes, changed, inputs, options))) return null;
    if (slopes) await layRelief(planes, channels, inputs, options);
    const shown = channels.filter((each) => changed.includes(each) || (slopes && each === 'normal'));
    return blocks.map((block) => patchOf(composed, boxes.rectOf(block), shown, this.mixing));
  }
}

/** A group without its layers, which are gone through themselves. */
const own = (layer: Layer): Layer => (layer.content === 'group' ? { ...layer, layers: [] } : layer);

/** Blocks whose places are remembered: about 90 KB each. */
const MOST_REMEMBERED = 1024;

/** Texels around a patch that its padding looks at. */
const MARGIN = 6;

/** A part of the maps as it looks on screen. */
function patchOf(
  { planes, tile: { size }, heights }: ComposedTile,
  rect: { x: number; y: number; width: number; height: number },
  channels: readonly LayerChannel[],
  mixing: Stack['mixing'],
): Patch {
  const [x, y] = [Math.max(0, rect.x - MARGIN), Math.max(0, rect.y - MARGIN)];
  const width = Math.min(size.width, rect.x + rect.width + MARGIN) - x;
  const height = Math.min(size.height, rect.y + rect.height + MARGIN) - y;
  const part = planesWithin(planes, size.width, { x, y, width, height });
  const images = channels.map((kind) => {
    const image = mapOfChannel(part, kind, { width, height }, mixing);
    return kind === 'height' && heights ? { ...image, range: heights } : image;
  });
  padIslands(images, part.states, MARGIN);
  const maps = channels.map((kind, i) => {
    const all = screenPixels(images[i]!);
    const rgba = new Uint8ClampedArray(rect.width * rect.height * 4);
    for (let row = 0; row < rect.height; row++) {
      const from = ((rect.y - y + row) * width + rect.x - x) * 4;
      rgba.set(all.subarray(from, from + rect.width * 4), row * rect.width * 4);
    }
    return { kind, rgba };
  });
  return { ...rect, maps };
}
