import { MapDeriver, PICKED_KINDS, type Care, type HeightSuggestion, type PickedKind } from '@zographos/core/derive';
import { resample, type Image, type MapKind } from '@zographos/core/image';
import { sizeWithin } from '@zographos/core/math';
import { fieldDrawer } from '@zographos/core/pattern';
import type { TileMaker } from '@zographos/core/seamless';
import type {
  CombineSettings,
  CutoutsSettings,
  DeriveSettings,
  FieldSettings,
  SeamlessSettings,
} from '@zographos/operations';
import {
  combinedMap,
  makeCutouts,
  makeTiles,
  mapsOfField,
  showsElements,
  tileMakerOf,
  type FlatMap,
} from '@zographos/operations/preview';

export type PreviewJob =
  | { operation: 'seamless'; settings: SeamlessSettings }
  | { operation: 'derive'; settings: DeriveSettings }
  | { operation: 'field'; settings: FieldSettings }
  | { operation: 'combine'; settings: CombineSettings }
  | { operation: 'cutouts'; settings: CutoutsSettings };

export interface PreviewWish {
  job: PreviewJob;
  /** Those that are wanted, the one to look at first. */
  kinds: readonly MapKind[];
  /** Alone, where a map by picked tones is shown. */
  pick: number | null;
}

export type Made = FlatMap[];

/**
 * Makes what a ticket of flat material would, at any size. Remembers its last steps, so that those that are the same
 * again need not be made again.
 */
export class PreviewMaker {
  private readonly pictures: readonly Image[];
  private readonly sketches: readonly Image[];
  private readonly check: () => void;
  private deriver: { of: string; own: MapDeriver } | null = null;
  private tiles: { of: string; own: TileMaker } | null = null;

  /**
   * @param pictures what the ticket is made of, as light @param sketches of the same
   * @param check called now and then; throws where it is to stop
   */
  constructor(pictures: readonly Image[], sketches: readonly Image[], check: () => void = () => {}) {
    this.pictures = pictures;
    this.sketches = sketches;
    this.check = check;
  }

  /** @param side texels of the longer side, at most @param care how exactly occlusion is looked for */
  make({ job, kinds, pick }: PreviewWish, side: number, care: Care): Made {
    const watch = { cancelFlag: NEVER, onProgress: this.check };
    switch (job.operation) {
      case 'seamless': {
        if (this.pictures.length === 0) return [];
        const settings = { ...job.settings, size: sizeWithin(job.settings.size, side, 16) };
        return inOrder(makeTiles(settings, this.tilesOf(settings), watch), kinds);
      }
      case 'derive':
        return this.pictures.length === 0 ? [] : this.derived(job.settings, kinds, pick, care);
      case 'field': {
        const settings = { ...job.settings, size: sizeWithin(job.settings.size, side, 16), samples: 1 };
        return inOrder(fieldMaps(settings, this.pictures), kinds);
      }
      case 'cutouts': {
        if (this.pictures.length === 0) return [];
        const size = sizeWithin(job.settings.size, side, 16);
        const gutter = Math.round((job.settings.gutter * size.width) / job.settings.size.width);
        return inOrder(makeCutouts({ ...job.settings, size, gutter }, this.pictures).maps, kinds);
      }
      case 'combine': {
        const settings = { ...job.settings, size: sizeWithin(job.settings.size, side, 16) };
        const wanted = settings.maps.map(({ kind }) => kind).filter((kind) => kinds.includes(kind));
        return inOrder(
          wanted.map((kind) => combinedMap(settings, this.pictures, kind)),
          kinds,
        );
      }
    }
  }

  /** Another that makes the same of pictures that are smaller than `side`. */
  reduced(side: number, check: () => void): PreviewMaker {
    const smaller = (image: Image): Image => ({
      ...image,
      ...resample(image, sizeWithin(image, side, 16), 'linear', 'clamp'),
    });
    return new PreviewMaker(this.pictures.map(smaller), this.sketches, check);
  }

  suggestion({ operation, settings }: PreviewJob): HeightSuggestion | null {
    return operation === 'derive' && settings.from === 'color' && this.deriver ? this.deriver.own.suggestion() : null;
  }

  /** How high white lies over black, in tile widths. */
  depth({ operation, settings }: PreviewJob): number | null {
    return operation === 'derive' && this.deriver ? this.deriver.own.depth(settings) : null;
  }

  private derived(settings: DeriveSettings, kinds: readonly MapKind[], pick: number | null, care: Care): Made {
    const { from, repeats } = settings;
    const of = `${from} ${repeats}`;
    if (this.deriver?.of !== of) this.deriver = { of, own: new MapDeriver(this.pictures[0]!, from, repeats) };
    const { own } = this.deriver;
    return settings.maps
      .filter((kind) => kinds.includes(kind))
      .sort((a, b) => kinds.indexOf(a) - kinds.indexOf(b))
      .map((kind) => {
        const picked: PickedKind | undefined = PICKED_KINDS.find((each) => each === kind);
        const alone = picked && pick !== null && settings[picked].picks[pick] !== undefined;
        return { kind, image: alone ? own.mask(picked, pick, settings) : own.make(kind, settings, care) };
      });
  }

  private tilesOf({ pictures, guide }: SeamlessSettings): TileMaker {
    const of = JSON.stringify([pictures, guide]);
    if (this.tiles?.of !== of) {
      this.tiles = { of, own: tileMakerOf({ pictures, guide }, this.pictures, this.sketches) };
    }
    return this.tiles.own;
  }
}

function fieldMaps(settings: FieldSettings, motifs: readonly Image[]): Made {
  const { size, layers, wrap, samples } = settings;
  const drawer = fieldDrawer({ layers, wrap, samples, motifs }, size);
  const values = new Float32Array(size.width * size.height);
  const elements = showsElements(settings) ? new Uint32Array(values.length) : null;
  drawer.values(0, size.height, values);
  if (elements) drawer.elements(0, size.height, elements);
  return mapsOfField(settings, { ...size, channels: 1, data: values }, elements);
}

const NEVER = new Int32Array(1);

const inOrder = (made: Made, kinds: readonly MapKind[]): Made =>
  made.filter(({ kind }) => kinds.includes(kind)).sort((a, b) => kinds.indexOf(a.kind) - kinds.indexOf(b.kind));
