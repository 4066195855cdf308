import {
  bareBlock,
  layersToLay,
  TEXELS,
  TexelBlock,
  type ComposedBlock,
  type Layer,
  type LayerChannel,
  type LayeredTile,
  type LayerInputs,
  type Stack,
  type SurfaceView,
} from '@zographos/core/layers';
import { screenByte, srgbToLinear } from '@zographos/core/color';

/** Places of one tile that are seen, taken up as blocks, with what a stack makes of them. */
interface SeenBlock {
  block: TexelBlock;
  /** The pixel of the view that each place is seen in. */
  pixels: Uint32Array;
  state: ComposedBlock;
}

export interface SeenTile {
  tile: LayeredTile;
  inputs: LayerInputs;
  /** Which of the places of the view lie in it. */
  places: readonly number[];
}

const CHANNELS: readonly LayerChannel[] = ['basecolor', 'roughness', 'metallic', 'emission'];

/**
 * Small pictures of a model as it would look with one more layer. The model is looked at once; then each layer is laid on
 * what is seen, and nowhere else.
 */
export class OfferPictures {
  private readonly view: SurfaceView;
  private readonly mixing: Stack['mixing'];
  private readonly tiles: { seen: SeenTile; blocks: SeenBlock[] }[];

  /** @param layers those that there are; what looks at more than one texel is left out */
  constructor(view: SurfaceView, tiles: readonly SeenTile[], layers: readonly Layer[], mixing: Stack['mixing']) {
    this.view = view;
    this.mixing = mixing;
    this.tiles = tiles.map((seen) => ({ seen, blocks: this.blocksOf(seen) }));
    for (const { seen, blocks } of this.tiles) {
      for (const layer of layers) this.lay(layer, seen, blocks);
    }
  }

  /**
   * @param tiles with the inputs that the layer needs, in the order of those before
   * @returns r, g, b and a of each pixel, with nothing beside the model; null where the layer lacks something
   */
  pictureWith(layer: Layer, tiles: readonly SeenTile[]): Uint8ClampedArray<ArrayBuffer> | null {
    const rgba = new Uint8ClampedArray(this.view.side ** 2 * 4);
    for (const [i, { blocks }] of this.tiles.entries()) {
      const seen = tiles[i];
      if (!seen) return null;
      const copies = blocks.map(({ state, ...rest }) => ({ ...rest, state: copyOf(state) }));
      if (!this.lay(layer, seen, copies)) return null;
      for (const each of copies) shade(each, this.mixing, rgba);
    }
    return rgba;
  }

  private blocksOf({ tile, places }: SeenTile): SeenBlock[] {
    const blocks: SeenBlock[] = [];
    const { pixels, places: all } = this.view;
    for (let from = 0; from < places.length; from += TEXELS) {
      const own = places.slice(from, from + TEXELS);
      const block = new TexelBlock(tile);
      block.standOn(
        Uint32Array.from(own, (i) => all.triangles[i]!),
        Float64Array.from({ length: own.length * 2 }, (_, i) => all.weights[own[i >> 1]! * 2 + (i & 1)]!),
      );
      blocks.push({ block, pixels: Uint32Array.from(own, (i) => pixels[i]!), state: bareBlock(CHANNELS) });
    }
    return blocks;
  }

  private lay(layer: Layer, { tile, inputs }: SeenTile, blocks: readonly SeenBlock[]): boolean {
    try {
      const lays = layersToLay([byPlace(layer)], CHANNELS, tile, inputs, this.mixing);
      for (const { block, state } of blocks) for (const layOn of lays) layOn(block, () => state);
      return true;
    } catch {
      // What is missing is told where the stack is shown.
      return false;
    }
  }
}

/** What a layer does at single places: masks as they are before they are grown or blurred. */
export function byPlace(layer: Layer): Layer {
  const mask = { ...layer.mask, shaping: { ...layer.mask.shaping, blur: 0, grow: 0 } };
  return layer.content === 'group' ? { ...layer, mask, layers: layer.layers.map(byPlace) } : { ...layer, mask };
}

function copyOf({ channels }: ComposedBlock): ComposedBlock {
  const copied = Object.entries(channels).map(([channel, values]) => [channel, values.slice()]);
  return { channels: Object.fromEntries(copied) as ComposedBlock['channels'], relief: null };
}

/** From the upper left, and a weaker light from the right. */
const LIGHTS = [
  { direction: [-0.48, 0.72, 0.5], strength: 0.85 },
  { direction: [0.8, 0.1, 0.6], strength: 0.25 },
] as const;
const AMBIENT = 0.28;

/** Diffuse light and a highlight whose width is the roughness (Blinn 1977); metals keep their colour in it. */
function shade({ block, pixels, state }: SeenBlock, mixing: Stack['mixing'], rgba: Uint8ClampedArray): void {
  const { basecolor, roughness, metallic, emission } = state.channels;
  const { normals } = block;
  for (let i = 0; i < pixels.length; i++) {
    const metal = metallic![i]!;
    const rough = Math.max(0.08, roughness![i]!);
    let diffuse = AMBIENT;
    let highlight = 0;
    for (const { direction, strength } of LIGHTS) {
      const facing = (k: number): number => normals[k * TEXELS + i]! * direction[k]!;
      const light = Math.max(0, facing(0) + facing(1) + facing(2));
      diffuse += light * strength;
      highlight += strength * light ** (2 / rough ** 2) * (1 - rough * 0.7);
    }
    for (let k = 0; k < 3; k++) {
      const toLight = (value: number): number => (mixing === 'seen' ? srgbToLinear(Math.max(0, value)) : value);
      const color = toLight(basecolor![k * TEXELS + i]!);
      const glow = toLight(emission![k * TEXELS + i]!);
      const shine = highlight * (0.25 * (1 - metal) + color * metal * 1.6);
      rgba[pixels[i]! * 4 + k] = screenByte(Math.min(1, color * diffuse * (1 - metal * 0.45) + shine + glow));
    }
    rgba[pixels[i]! * 4 + 3] = 255;
  }
}
