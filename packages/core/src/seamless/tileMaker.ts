import type { Size } from '../math/size.ts';
import type { Image } from '../image/image.ts';
import { isDirection, isCategory, toUnit } from '../image/kindMeaning.ts';
import { sketchOf } from '../image/filter/halve.ts';
import { resample } from '../image/filter/resample.ts';
import { castShadowsOf, type CastShadows } from './lighting/castShadows.ts';
import { evenOut, type EvenOptions } from './lighting/evenOut.ts';
import { framedSides, framePicture, WHOLE_PICTURE, type Corners } from './framePicture.ts';
import { Memo } from '../math/memo.ts';
import type { Axis } from './ends/overlap.ts';
import { DEFAULT_ENDS, lengthBefore, requireOneSize, seamlessSet, type Ends, type MapOfSet } from './seamlessSet.ts';
import {
  layPatches,
  planPatches,
  smallSide,
  type SynthesisOptions,
  type SynthesisWatch,
} from './patches/synthesise.ts';
import type { Spot } from './touchUp/spot.ts';
import { planTouchUp, touchUp } from './touchUp/touchUp.ts';
import { TILES_ACROSS } from './wang/cornerTorus.ts';
import { layWangTiles, planWangTiles, sketchedSize as sketchedForWang, type WangOptions } from './wang/wangTiles.ts';

/** From a picture, or the maps of a set, to a tile. Lengths are shares, so that small previews show what is to come. */
export interface TileSettings {
  /** What of the picture is used. */
  corners: Corners;
  even: EvenOptions;
  /** Whether ends are joined, the tile is put together anew from patches, or an atlas of tiles that match at random. */
  way: 'ends' | 'patches' | 'wang';
  ends: Readonly<Record<Axis, Ends>>;
  patches: SynthesisOptions;
  /** Of an atlas: the side of a tile as a share of the picture's shorter side. */
  wang: WangOptions & { tile: number };
  spots: readonly Spot[];
  size: Size;
}

export const DEFAULT_TILE: Omit<TileSettings, 'size'> = {
  corners: WHOLE_PICTURE,
  even: { radius: 0.25, light: 0, color: 0, shadows: 0, highlights: 0 },
  way: 'ends',
  ends: { across: DEFAULT_ENDS, up: DEFAULT_ENDS },
  patches: { patch: 0.5, overlap: 0.45, spread: 1, variety: 0.1, seed: 1 },
  wang: { tile: 0.5, variety: 0.1, seed: 1 },
  spots: [],
};

/**
 * Makes tiles of all maps of a set: framed, evened out (colours alone), made to repeat, touched up; every step the same
 * for each map. Steps are made again only when what they depend on has changed.
 */
export class TileMaker {
  private readonly maps: readonly MapOfSet[];
  private readonly guide: number;
  private readonly sketch: Image | undefined;
  private readonly steps = new Memo();

  /**
   * @param maps of one size, samples as light
   * @param guide the number of the map by which cuts and patches are found
   * @param sketch of `sketchOf` its whole picture, where the maps are reduced ones
   * @throws input/bad-settings for maps of several sizes
   */
  constructor(maps: readonly MapOfSet[], guide: number, sketch?: Image) {
    requireOneSize(maps, guide);
    this.sketch = sketch;
    this.maps = maps;
    this.guide = guide;
  }

  /** @returns the maps in their order @throws input/bad-settings */
  make(settings: TileSettings, watch: SynthesisWatch = {}): Image[] {
    const { spots, size } = settings;
    const tiles = this.repeating(settings, watch).map((tile, i) =>
      // Of a mirrored axis with an odd length, one texel is too many.
      resample(tile, size, isCategory(this.maps[i]!.kind) ? 'nearest' : 'mitchell', 'repeat'),
    );
    // A mend on one of many tiles would be seen in it alone, and break what it shares with others.
    const painted = planTouchUp(tiles[this.guide]!, settings.way === 'wang' ? [] : spots, watch.check);
    return tiles.map((tile, i) => {
      watch.check?.();
      const { kind } = this.maps[i]!;
      return touchUp(tile, painted, { unit: isDirection(kind), whole: isCategory(kind) });
    });
  }

  /** The maps as they are before they repeat: framed and evened out, in their order, at the scale of the tile. */
  framed(settings: TileSettings, watch: SynthesisWatch = {}): readonly MapOfSet[] {
    const { corners, even, way, ends, size } = settings;
    const { image } = this.maps[this.guide]!;
    const framed =
      way === 'patches'
        ? sourceOfPatches(image, settings)
        : way === 'wang'
          ? sourceOfWang(image, settings)
          : { width: lengthBefore(ends.across, size.width), height: lengthBefore(ends.up, size.height) };
    return this.steps.once('prepared', JSON.stringify([corners, even, framed]), () =>
      this.prepare(settings, framed, watch),
    );
  }

  private repeating(settings: TileSettings, watch: SynthesisWatch): Image[] {
    const { corners, even, way, ends, patches, wang, size } = settings;
    const { guide, steps } = this;
    const prepared = this.framed(settings, watch);
    const { width, height } = prepared[guide]!.image;
    const own = { patches: [patches, size], wang: [wang, size], ends }[way];
    return steps.once('repeating', JSON.stringify([corners, even, width, height, own]), () => {
      if (way === 'patches') return this.fromPatches(prepared, settings, watch);
      if (way === 'ends') return seamlessSet(prepared, guide, ends);
      return this.fromWang(prepared, settings, watch);
    });
  }

  private fromPatches(prepared: readonly MapOfSet[], settings: TileSettings, watch: SynthesisWatch): Image[] {
    const { size, patches } = settings;
    const small = this.sketched(settings, (sketch) => sketchedSize(sketch, settings));
    const plan = planPatches(prepared[this.guide]!.image, size, patches, watch, small);
    return prepared.map(({ kind, image: source }) =>
      layPatches(source, plan, { unit: isDirection(kind), whole: isCategory(kind) }),
    );
  }

  private fromWang(prepared: readonly MapOfSet[], settings: TileSettings, watch: SynthesisWatch): Image[] {
    const { size, wang, corners } = settings;
    const small = this.sketched(settings, (sketch) => {
      const [width, height] = framedSides(sketch, corners);
      return sketchedForWang({ width, height });
    });
    const plan = planWangTiles(prepared[this.guide]!.image, size, wang, watch, small);
    return prepared.map(({ kind, image: source }) =>
      layWangTiles(source, plan, { unit: isDirection(kind), whole: isCategory(kind) }),
    );
  }

  /** The map that guides, framed and evened out, at a size that is the same for previews. */
  private sketched({ corners, even }: TileSettings, sizeOf: (sketch: Image) => Size): Image {
    const { image } = this.maps[this.guide]!;
    const sketch = this.sketch ?? sketchOf(image);
    const size = sizeOf(sketch);
    return this.steps.once('sketch', JSON.stringify([corners, even, size]), () => {
      const frame = framePicture(sketch, corners, size);
      return image.colorSpace === 'srgb' ? evenOut(frame, even) : frame;
    });
  }

  private prepare({ corners, even }: TileSettings, framed: Size, { check }: SynthesisWatch): MapOfSet[] {
    return this.maps.map(({ kind, image }) => {
      check?.();
      const frame = inUnitLength(kind, framePicture(image, corners, framed));
      if (image.colorSpace !== 'srgb') return { kind, image: frame };
      // Shadows are sought once, however strongly they are taken away.
      const findShadows = (): CastShadows | null =>
        this.steps.once(`shadows of ${kind}`, JSON.stringify([corners, framed]), () => castShadowsOf(frame));
      return { kind, image: evenOut(frame, even, findShadows) };
    });
  }
}

/** The size at which a source of patches is framed: its longer side is that of the tile by how far it is spread. */
function sourceOfPatches(image: Image, { corners, size, patches }: TileSettings): Size {
  const [across, up] = framedSides(image, corners);
  return scaledTo(across, up, Math.max(size.width, size.height) / patches.spread / Math.max(across, up));
}

/** The size at which a source of tiles that match is framed: so that a tile is as wide as the share of it says. */
function sourceOfWang(image: Image, { corners, size, wang }: TileSettings): Size {
  const [across, up] = framedSides(image, corners);
  return scaledTo(across, up, size.width / TILES_ACROSS / wang.tile / Math.min(across, up));
}

/** The size at which places of patches are sought. */
function sketchedSize(sketch: Image, { corners, patches }: TileSettings): Size {
  const [across, up] = framedSides(sketch, corners);
  return scaledTo(across, up, smallSide(patches) / Math.min(across, up));
}

const scaledTo = (across: number, up: number, scale: number): Size => ({
  width: Math.max(1, Math.round(across * scale)),
  height: Math.max(1, Math.round(up * scale)),
});

function inUnitLength(kind: MapOfSet['kind'], image: Image): Image {
  if (isDirection(kind)) for (let at = 0; at < image.data.length; at += image.channels) toUnit(image.data, at);
  return image;
}
