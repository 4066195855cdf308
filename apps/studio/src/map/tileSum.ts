import type { MapRevision } from '@zographos/contracts';
import { TileStore, type Plane, type Tile } from './tileStore.ts';

/** Tiles of several maps of one size, added texel by texel: light adds up. */
export class TileSum {
  private readonly stores: TileStore[];
  private readonly sums = new WeakMap<Tile, { of: Tile[]; sum: Tile }>();

  /** @param onTile told whenever a tile has arrived */
  constructor(revisions: readonly MapRevision[], onTile: () => void) {
    this.stores = revisions.map((revision) => new TileStore(revision, onTile));
  }

  /** The tile once it is here of all maps; states are those of the first. */
  get(plane: Plane, level: number, column: number, row: number): Tile | null {
    const [first] = this.stores;
    if (plane === 'states') return first!.get(plane, level, column, row);
    // Asked of all at once, so that none waits for another.
    const tiles = this.stores.map((store) => store.get(plane, level, column, row));
    const here = tiles.filter((tile) => tile !== null);
    if (here.length < tiles.length) return null;
    return here.length === 1 ? here[0]! : this.sumOf(here);
  }

  private sumOf(tiles: Tile[]): Tile {
    const known = this.sums.get(tiles[0]!);
    if (known?.of.every((tile, i) => tile === tiles[i])) return known.sum;
    const samples = Float32Array.from(tiles[0]!.samples);
    for (const tile of tiles.slice(1)) for (let i = 0; i < samples.length; i++) samples[i]! += tile.samples[i]!;
    const sum = { ...tiles[0]!, samples };
    this.sums.set(tiles[0]!, { of: tiles, sum });
    return sum;
  }
}
