import { ZographosError } from '../../errors.ts';
import { resample } from '../../image/filter/resample.ts';
import type { Image } from '../../image/image.ts';
import { toUnit } from '../../image/kindMeaning.ts';
import type { Size } from '../../math/size.ts';
import { asSeen } from '../cut/cutCost.ts';
import type { Place } from '../patches/patchMeeting.ts';
import { bestAbout, PatchSearch, reducedPictures, type Reduced } from '../patches/patchSearch.ts';
import { layPatch, PatchTile, type Patch } from '../patches/patchTile.ts';
import type { SynthesisWatch } from '../patches/synthesise.ts';
import { cornerColor, LEAST_TILE, TILES_ACROSS } from './cornerTorus.ts';

export interface WangOptions {
  /** How much worse than the best a patch may fit, so that there is a choice: 0 for the best alone. */
  variety: number;
  seed: number;
}

/** Sides of the patches at corners, over edges and in the middles of tiles, in tiles. */
const CORNER = 0.5;
const EDGE = 0.7;
const MIDDLE = 1;
/** Of a tile, along its borders: as far as patches of edges stay away from those of other edges. */
const RIM = (1 - EDGE) / 2;
/** The shorter side of the small copy on which places are sought. */
const SMALL_COPY = 128;

/** A patch of a side of its own. */
interface SidedPatch extends Patch {
  side: number;
}

/** How an atlas of tiles is put together; one plan serves all maps of a set. */
export interface WangPlan {
  size: Size;
  /** Corners and edges from left to right, corners and edges from above to below, and the middles of tiles. */
  across: SidedPatch[];
  down: SidedPatch[];
  middles: SidedPatch[];
}

/**
 * Plans sixteen tiles with coloured corners (Lagae and Dutré, "An Alternative for Wang Tiles: Colored Edges versus Colored
 * Corners", 2006, after Cohen, Shade, Hiller and Deussen, "Wang Tiles for Image and Texture Generation", 2003): any tiles
 * lie beside each other whose corners have the same colours. A patch of the picture lies at each corner by its colour; one
 * over each edge by its two colours, so that tiles with the same edge continue each other; and one in the middle of each
 * tile, up to a minimum cut within its rim.
 * @param size of the atlas, four by four square tiles
 * @param sketch the picture as small as `sketchedSize` says, on which places are sought: with the same one, a preview shows
 * what the large atlas will be
 * @returns the plan, laid by `layWangTiles`
 * @throws input/bad-settings for an atlas that is not square, or tiles too small to be cut or too large for the picture
 */
export function planWangTiles(
  picture: Image,
  size: Size,
  options: WangOptions,
  { onProgress, check }: SynthesisWatch = {},
  sketch = resample(picture, sketchedSize(picture), 'linear'),
): WangPlan {
  const side = sideOf(size, Math.min(picture.width, picture.height));
  const [source, small] = [asSeen(picture), asSeen(sketch)];
  const maker = new WangMaker(source, small, side, options);
  const total = 2 + 8 + TILES_ACROSS ** 2;
  let done = 0;
  const step = (): void => {
    check?.();
    onProgress?.(done++ / total);
  };
  const corners = [0, 1].map(() => {
    step();
    return maker.cornerPlace();
  }) as [Place, Place];
  const across = maker.edges(corners, 'across', step);
  const down = maker.edges(corners, 'down', step);
  const middles = maker.middles(across.canvas, down.canvas, step);
  return { size, across: across.patches, down: down.patches, middles };
}

/** The size of the small copy of a picture on which places are sought. */
export function sketchedSize({ width, height }: Size): Size {
  const scale = Math.min(1, SMALL_COPY / Math.min(width, height));
  return { width: Math.round(width * scale), height: Math.round(height * scale) };
}

/** @throws input/bad-settings */
function sideOf({ width, height }: Size, shorter: number): number {
  const side = Math.floor(width / TILES_ACROSS);
  const wrong = (why: string): never => {
    throw new ZographosError('input/bad-settings', why);
  };
  if (width !== height || width % TILES_ACROSS !== 0) {
    wrong('An atlas of Wang tiles is square, four tiles wide. Choose the same width and height, a multiple of 4.');
  }
  if (side < LEAST_TILE) wrong(`Tiles of ${side} px are too small to join. Choose a larger atlas.`);
  if (side > shorter) wrong(`Tiles of ${side} px do not fit into ${shorter} px of the image. Choose a smaller atlas.`);
  return side;
}

/** Where the image of a canvas and that of its small copy are put together alike. */
interface Canvas {
  full: PatchTile;
  small: PatchTile;
}

class WangMaker {
  private readonly source: Image;
  private readonly small: Image;
  private readonly side: number;
  private readonly smallSide: number;
  private readonly sources: readonly Reduced[];
  private readonly scale: number;
  private readonly corner: PatchSearch;
  private readonly edge: PatchSearch;
  private readonly middle: PatchSearch;

  constructor(source: Image, small: Image, side: number, options: WangOptions) {
    this.source = source;
    this.small = small;
    this.side = side;
    this.scale = small.width / source.width;
    this.smallSide = Math.max(16, Math.round(side * this.scale));
    this.sources = reducedPictures(source, 1 / this.scale);
    const search = (length: number): PatchSearch => new PatchSearch(small, this.smallPatch(length), options);
    [this.corner, this.edge, this.middle] = [search(CORNER), search(EDGE), search(MIDDLE)];
  }

  /** A place of the small copy for the patch of a corner, by chance. */
  cornerPlace(): Place {
    return this.corner.choose(this.canvas(CORNER).small, [0, 0]);
  }

  /** The corners, and edges one way. */
  edges(
    [zero, one]: [Place, Place],
    way: 'across' | 'down',
    step: () => void,
  ): { canvas: Canvas; patches: SidedPatch[] } {
    const patches: SidedPatch[] = [];
    const corners = this.canvas(CORNER);
    eachPlace((column, row) => {
      const place = cornerColor(column, row) === 0 ? zero : one;
      patches.push(this.put(corners, [column, row], this.onSource(place, corners.full), place));
    });
    const edges = this.canvas(EDGE, corners);
    // What is chosen for two colours is taken wherever they follow each other.
    const chosen = new Map<number, Place>();
    const places: [at: Place, place: Place][] = [];
    eachPlace((column, row) => {
      const [nextColumn, nextRow] = way === 'across' ? [column + 1, row] : [column, row + 1];
      const key = cornerColor(column, row) * 2 + cornerColor(nextColumn, nextRow);
      const at: Place = way === 'across' ? [column + 0.5, row] : [column, row + 0.5];
      if (!chosen.has(key)) {
        step();
        chosen.set(key, this.edge.choose(edges.small, this.cornerOf(at, edges.small)));
      }
      places.push([at, chosen.get(key)!]);
    });
    const exact = new Map<Place, Place>();
    for (const [at, place] of places) {
      const known = exact.get(place) ?? this.exactly(edges.full, at, place);
      exact.set(place, known);
      patches.push(this.put(edges, at, known, place));
    }
    return { canvas: edges, patches };
  }

  /** The middles of all tiles, within the rims that both ways of edges give. */
  middles(across: Canvas, down: Canvas, step: () => void): SidedPatch[] {
    const canvas = this.canvas(MIDDLE);
    layRims(canvas.full, across.full.image, down.full.image, this.side);
    layRims(canvas.small, across.small.image, down.small.image, this.smallSide);
    const patches: SidedPatch[] = [];
    eachPlace((column, row) => {
      step();
      const at: Place = [column + 0.5, row + 0.5];
      const place = this.middle.choose(canvas.small, this.cornerOf(at, canvas.small));
      patches.push({
        ...canvas.full.put(this.cornerOf(at, canvas.full), this.exactly(canvas.full, at, place)),
        side: canvas.full.side,
      });
    });
    return patches;
  }

  /** @param length of its patches, in tiles: those of a whole tile leave its outermost texels as they are */
  private canvas(length: number, below?: Canvas): Canvas {
    const all = (side: number): Size => ({ width: side * TILES_ACROSS, height: side * TILES_ACROSS });
    const full = Math.round(this.side * length) - (length === MIDDLE ? 4 : 0);
    return {
      full: new PatchTile(this.source, all(this.side), full, below?.full),
      small: new PatchTile(this.small, all(this.smallSide), this.smallPatch(length), below?.small),
    };
  }

  private smallPatch(length: number): number {
    return Math.round(this.smallSide * length) - (length === MIDDLE ? 2 : 0);
  }

  private put({ full, small }: Canvas, at: Place, exact: Place, place: Place): SidedPatch {
    small.put(this.cornerOf(at, small), place);
    return { ...full.put(this.cornerOf(at, full), exact), side: full.side };
  }

  /** The place about one of the small copy that fits best what is there. */
  private exactly(full: PatchTile, at: Place, place: Place): Place {
    const start = this.onSource(place, full);
    return bestAbout(full, this.cornerOf(at, full), start, Math.ceil(1 / this.scale), this.sources);
  }

  /** A place of the small copy on the picture itself. */
  private onSource([x, y]: Place, { source, side }: PatchTile): Place {
    return [
      Math.min(Math.round(x / this.scale), source.width - side),
      Math.min(Math.round(y / this.scale), source.height - side),
    ];
  }

  /** The upper left texel of a patch whose middle is to lie at a place, in tiles. */
  private cornerOf(at: Place, { image, side }: PatchTile): Place {
    const tile = image.width / TILES_ACROSS;
    return at.map((along) => (Math.round(along * tile) - (side >> 1) + image.width) % image.width) as unknown as Place;
  }
}

function eachPlace(visit: (column: number, row: number) => void): void {
  for (let row = 0; row < TILES_ACROSS; row++) {
    for (let column = 0; column < TILES_ACROSS; column++) visit(column, row);
  }
}

/** Which texels of the atlas are rims, and of which way: 1 for those along horizontal borders, 2 for vertical ones. */
function rimOf(x: number, y: number, tile: number): 0 | 1 | 2 {
  const rim = Math.floor(RIM * tile) - 2;
  const near = (along: number): boolean => along % tile < rim || along % tile >= tile - rim;
  return near(y) ? 1 : near(x) ? 2 : 0;
}

function layRims({ image, filled }: PatchTile, across: Image, down: Image, side: number): void {
  layRimsOf(image, across, down, side);
  const { width } = image;
  for (let i = 0; i < filled.length; i++) filled[i] = rimOf(i % width, Math.floor(i / width), side) === 0 ? 0 : 1;
}

function layRimsOf(atlas: Image, across: Image, down: Image, side: number): void {
  const { width, height, channels } = atlas;
  for (let i = 0; i < width * height; i++) {
    const rim = rimOf(i % width, Math.floor(i / width), side);
    if (rim === 0) continue;
    const from = rim === 1 ? across : down;
    for (let c = 0; c < channels; c++) atlas.data[i * channels + c] = from.data[i * channels + c]!;
  }
}

/**
 * Puts the tiles of one map of a set together by a plan: an atlas of four by four tiles that repeats itself.
 * @param unit of directions, which are made one long again @param whole whether texels stand for things and are never mixed
 */
export function layWangTiles(
  source: Image,
  { size, across, down, middles }: WangPlan,
  { unit = false, whole = false }: { unit?: boolean; whole?: boolean } = {},
): Image {
  const empty = (): Image => ({
    ...source,
    ...size,
    data: new Float32Array(size.width * size.height * source.channels),
  });
  const laid = (patches: readonly SidedPatch[], onto: Image): Image => {
    for (const patch of patches) layPatch(onto, source, patch.side, patch, whole);
    return onto;
  };
  const atlas = empty();
  layRimsOf(atlas, laid(across, empty()), laid(down, empty()), size.width / TILES_ACROSS);
  laid(middles, atlas);
  if (unit) for (let at = 0; at < atlas.data.length; at += atlas.channels) toUnit(atlas.data, at);
  return atlas;
}
