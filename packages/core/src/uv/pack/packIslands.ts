import type { Size } from '../../math/size.ts';
import { ZographosError } from '../../errors.ts';
import { mixed } from '../../math/lowDiscrepancy.ts';
import { islandCount } from '../islands/islands.ts';
import { coveringLayout, type Layout } from '../layout.ts';
import { FIRST_TILE, tileAt, tileOrigin } from '../udim.ts';
import { islandShapes, toSurface, type IslandShape } from './islandShape.ts';
import { PackGrid } from './packGrid.ts';
import { drawShape, turned, type ShapeMask, type Turns } from './shapeMask.ts';

export interface PackSettings {
  /** Of the map that will lie on each tile. */
  size: Size;
  /** What a length along u is of one along v in the layout as it is: width over height of the map it was made for. */
  aspect: number;
  /** Texels that stay free between islands, and to the edge of the tile or window. */
  gap: number;
  edge: number;
  /** Whether islands may be turned: so that their boxes are smallest, and by quarters. */
  rotate: boolean;
  /** The same texels for each mesh unit everywhere, or as islands stand to each other now. */
  density: 'equal' | 'kept';
  /** Texels for each mesh unit (or, with `kept`, times the present size); or as many as fit. */
  scale: 'fill' | number;
  /** The part of each tile that is filled: u and v from and to. */
  window: readonly [u0: number, v0: number, u1: number, v1: number];
  tiles: readonly number[];
  /** What an island's lengths are multiplied by beside the others. */
  weightOf: (island: number) => number;
  /** Islands that stay where they are, and are kept clear of. */
  isLocked: (island: number) => boolean;
  /** Orders in which islands are tried; the best is kept. */
  passes: number;
}

export const DEFAULT_PACK: PackSettings = {
  size: { width: 1024, height: 1024 },
  aspect: 1,
  gap: 4,
  edge: 2,
  rotate: true,
  density: 'equal',
  scale: 'fill',
  window: [0, 0, 1, 1],
  tiles: [FIRST_TILE],
  weightOf: () => 1,
  isLocked: () => false,
  passes: 3,
};

/** The best layout so far. */
export interface Packed {
  uvs: Float32Array;
  /** Share of the tiles that islands cover. */
  coverage: number;
  /** Texels for each mesh unit (or, with `kept`, times the present size). */
  scale: number;
  pass: number;
}

/** Islands are placed on a grid of no more cells than this along a side: few islands need no fine one. */
const MOST_CELLS = { few: 512, many: 1024 };
const FEW = 64;
/** From so many islands on, only two of the four quarter turns are tried. */
const MANY = 300;
/** The scale is made smaller by this factor until everything fits, and then sought between in some steps. */
const SHRINK = 0.85;
const MOST_SHRINKS = 48;
const STEPS = 5;
/** Another order must do better by so much to be worth its time. */
const BETTER = 1 + 1 / 128;

/**
 * Packs the islands of a layout into tiles: shapes are drawn conservatively on a grid of cells, and each is put into the
 * lowest place that is free, the large ones first. The gap holds between all borders, whatever their shape.
 * Yields whenever a better packing is found, so that it can be stopped at any time.
 * @param islands the island of each triangle
 * @throws limit/packing when they cannot fit, however small; with the size at which they would
 */
export function* packIslands(layout: Layout, islands: Uint32Array, settings: PackSettings): Generator<Packed, Packed> {
  const packing = new Packing(layout, islands, settings);
  let best: Packed | null = null;
  for (let pass = 0; pass < settings.passes; pass++) {
    const placed = packing.inOrder(pass, best?.scale ?? 0);
    if (!placed) continue;
    best = { ...packing.result(placed), pass };
    yield best;
    if (settings.scale !== 'fill') break;
  }
  if (best) return best;
  throw packing.refusal();
}

interface Placed {
  shape: IslandShape;
  tile: number;
  turns: Turns;
  x: number;
  y: number;
  /** Cells for each unit of the shape. */
  scale: number;
}

class Packing {
  private readonly layout: Layout;
  private readonly islands: Uint32Array;
  private readonly settings: PackSettings;
  private readonly free: IslandShape[];
  /** What each shape's lengths are multiplied by to stand in proportion. */
  private readonly factors = new Map<IslandShape, number>();
  /** Texels of a cell's side. */
  private readonly cell: number;
  /** Where the grid begins in a tile, in texels. */
  private readonly left: number;
  private readonly bottom: number;
  private readonly grids: PackGrid[];

  constructor(layout: Layout, islands: Uint32Array, settings: PackSettings) {
    this.layout = layout;
    this.islands = islands;
    this.settings = settings;
    const { size, aspect, window, edge, gap, tiles, rotate, density, weightOf, isLocked } = settings;
    const covering = coveringLayout(layout);
    const shapes = islandShapes(covering, islands, aspect, rotate);
    this.free = shapes.filter(({ island }) => !isLocked(island));
    for (const shape of this.free) {
      this.factors.set(shape, (density === 'equal' ? toSurface(shape) : 1) * weightOf(shape.island));
    }
    const cells = this.free.length < FEW ? MOST_CELLS.few : MOST_CELLS.many;
    this.cell = Math.max(1, Math.max(size.width, size.height) / cells);
    this.left = Math.ceil(window[0] * size.width + edge);
    this.bottom = Math.ceil(window[1] * size.height + edge);
    const across = Math.floor((Math.floor(window[2] * size.width - edge) - this.left) / this.cell);
    const up = Math.floor((Math.floor(window[3] * size.height - edge) - this.bottom) / this.cell);
    if (across < 1 || up < 1) throw this.refusal();
    this.grids = tiles.map(() => new PackGrid(across, up, Math.ceil(gap / this.cell)));
    this.keepClear(islandShapes(covering, islands, size.width / size.height, false).filter((s) => isLocked(s.island)));
  }

  /** Takes the cells of islands that stay. */
  private keepClear(locked: readonly IslandShape[]): void {
    const { size, tiles } = this.settings;
    for (const shape of locked) {
      const [u, v] = [(shape.x + shape.width / 2) / (size.width / size.height), shape.y + shape.height / 2];
      const grid = this.grids[tiles.indexOf(tileAt(u, v) ?? 0)];
      if (!grid) continue;
      const scale = size.height / this.cell;
      const x = ((shape.x * size.height) % size.width) - this.left;
      const y = ((shape.y * size.height) % size.height) - this.bottom;
      // Off the cells by a part of one: the cells on both sides are taken.
      const mask = drawShape(shape, scale, 0);
      for (const dx of [0, 1]) {
        for (const dy of [0, 1]) grid.place(mask, Math.floor(x / this.cell) + dx, Math.floor(y / this.cell) + dy);
      }
    }
  }

  /** Cells for each unit at the scale of one texel to a mesh unit (or at the present size). */
  private get unit(): number {
    return (this.settings.density === 'equal' ? 1 : this.settings.size.height) / this.cell;
  }

  /**
   * Seeks the largest scale at which one order of the islands fits.
   * @param atLeast a scale that is to be beaten
   */
  inOrder(pass: number, atLeast: number): Placed[] | null {
    const order = this.orderOf(pass);
    const { scale } = this.settings;
    if (scale !== 'fill') return this.attempt(order, scale * this.unit);
    const area = order.reduce((sum, shape) => sum + shape.area * this.factors.get(shape)! ** 2, 0);
    const cells = this.grids.reduce((sum, { width, height }) => sum + width * height, 0);
    // Nothing fits beyond this.
    let high = Math.sqrt(cells / area);
    if (!Number.isFinite(high)) return null;
    let low = atLeast * this.unit * BETTER;
    let best = atLeast > 0 ? this.attempt(order, low) : null;
    if (atLeast > 0 && !best) return null;
    for (let n = 0; !best && n < MOST_SHRINKS; n++) {
      const smaller = high * SHRINK;
      best = this.attempt(order, smaller);
      if (best) low = smaller;
      else high = smaller;
    }
    for (let step = 0; best && step < STEPS; step++) {
      const middle = (low + high) / 2;
      const larger = this.attempt(order, middle);
      best = larger ?? best;
      if (larger) low = middle;
      else high = middle;
    }
    return best;
  }

  /** Large islands first: by their longer side, then by area, then by other measures of size. */
  private orderOf(pass: number): IslandShape[] {
    const measure = (shape: IslandShape): number => {
      const factor = this.factors.get(shape)!;
      const longer = Math.max(shape.width, shape.height) * factor;
      if (pass === 0) return longer;
      if (pass === 1) return Math.sqrt(shape.width * shape.height) * factor;
      return longer * (0.75 + (mixed(shape.island, pass) >>> 0) / 2 ** 33);
    };
    const sizes = new Map(this.free.map((shape) => [shape, measure(shape)]));
    return [...this.free].sort((a, b) => sizes.get(b)! - sizes.get(a)! || a.island - b.island);
  }

  /** Places all islands at a scale, or tells that they do not fit. */
  private attempt(order: readonly IslandShape[], scale: number): Placed[] | null {
    const grids = this.grids.map((grid) => grid.copy());
    const turns: Turns[] = !this.settings.rotate ? [0] : order.length > MANY ? [0, 1] : [0, 1, 2, 3];
    // Where islands of about one size found room: those that follow need not look below.
    const hints = grids.map(() => new Map<number, number>());
    const placed: Placed[] = [];
    for (const shape of order) {
      const own = scale * this.factors.get(shape)!;
      const masks = turns.map((turn) => drawShape(shape, own, turn));
      const place = this.placeOf(masks, grids, hints);
      if (!place) return null;
      const { tile, turn, x, y } = place;
      grids[tile]!.place(masks[turn]!, x, y);
      placed.push({ shape, tile: this.settings.tiles[tile]!, turns: turns[turn]!, x, y, scale: own });
    }
    return placed;
  }

  private placeOf(masks: ShapeMask[], grids: PackGrid[], hints: Map<number, number>[]) {
    const kind = Math.floor(2 * Math.log2(masks[0]!.width * masks[0]!.height));
    for (const [tile, grid] of grids.entries()) {
      for (const from of new Set([hints[tile]!.get(kind) ?? 0, 0])) {
        let best: { tile: number; turn: number; x: number; y: number; top: number } | null = null;
        for (const [turn, mask] of masks.entries()) {
          const found = grid.find(mask, from);
          if (!found) continue;
          const top = found.y + mask.height;
          if (!best || top < best.top || (top === best.top && found.x < best.x)) best = { tile, turn, ...found, top };
        }
        if (!best) continue;
        hints[tile]!.set(kind, best.y);
        return best;
      }
    }
    return null;
  }

  /** The layout with its islands in their places. */
  result(placed: readonly Placed[]): Omit<Packed, 'pass'> {
    const { size, tiles, aspect } = this.settings;
    const uvs = this.layout.uvs.slice();
    const of = new Map(placed.map((each) => [each.shape.island, each]));
    const done = new Uint8Array(uvs.length / 2);
    let covered = 0;
    for (const { shape, scale } of placed) covered += shape.area * (scale * this.cell) ** 2;
    for (let i = 0; i < this.layout.indices.length; i++) {
      const v = this.layout.indices[i]!;
      const place = of.get(this.islands[Math.floor(i / 3)]!);
      if (!place || done[v]) continue;
      done[v] = 1;
      const { shape, turns, tile } = place;
      const [u, w] = [this.layout.uvs[v * 2]! * aspect, this.layout.uvs[v * 2 + 1]!];
      const straightX = u * shape.cos - w * shape.sin - shape.x;
      const straightY = u * shape.sin + w * shape.cos - shape.y;
      const [x, y] = turned(shape, straightX, straightY, turns);
      const [u0, v0] = tileOrigin(tile);
      uvs[v * 2] = u0 + (this.left + (place.x + x * place.scale) * this.cell) / size.width;
      uvs[v * 2 + 1] = v0 + (this.bottom + (place.y + y * place.scale) * this.cell) / size.height;
    }
    const first = placed[0];
    const scale = first ? first.scale / this.factors.get(first.shape)! / this.unit : 1;
    return { uvs, coverage: covered / (size.width * size.height * tiles.length), scale };
  }

  refusal(): ZographosError {
    const { size, gap, edge, tiles, scale, window } = this.settings;
    const count = islandCount(this.islands);
    const share = Math.min(window[2] - window[0], window[3] - window[1]);
    // Each island as a cell of two texels with its gap; and a third to spare, for they are of many shapes.
    const side = (Math.sqrt((count * (2 + gap) ** 2 * 1.33) / tiles.length) + 2 * edge) / share;
    const fitting = 2 ** Math.ceil(Math.log2(side));
    const what = `${count} islands with ${gap} px spacing`;
    return new ZographosError(
      'limit/packing',
      scale === 'fill'
        ? `${what} do not fit into ${size.width} × ${size.height} px at any scale. Use at least ${Math.max(fitting, 2 * Math.max(size.width, size.height))} px, or reduce the spacing.`
        : `${what} do not fit at ${Number(scale.toPrecision(4))} px per unit. Leave the texel density empty to fill the tile, or use more tiles.`,
    );
  }
}
