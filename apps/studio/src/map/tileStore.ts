import { PATHS, type MapRevision } from '@zographos/contracts';
import { TILE, tileSize, unshufflePlanes } from '@zographos/formats/tiles';

export type Plane = 'map' | 'states';

export interface Tile {
  width: number;
  height: number;
  /** Interleaved samples of the map, or a state for each texel. */
  samples: Float32Array | Uint8Array;
}

/** Tiles kept in memory: enough for a large screen at two levels. */
const KEPT = 120;

/** @throws Error when it cannot be had */
export async function fetchTile(
  { id, levels }: MapRevision,
  plane: Plane,
  level: number,
  column: number,
  row: number,
): Promise<Tile> {
  const response = await fetch(PATHS.tile(id, plane, level, column, row));
  if (!response.ok) throw new Error('A tile of the map is not to be had.');
  const bytes = new Uint8Array(await response.arrayBuffer());
  const size = tileSize({ ...levels[level]!, offsets: [] }, column, row);
  return { ...size, samples: plane === 'map' ? unshufflePlanes(bytes) : bytes };
}

/** Fetches tiles of one map as they are wanted and keeps those used lately. */
export class TileStore {
  private readonly tiles = new Map<string, Tile | 'coming'>();
  private readonly revision: MapRevision;
  private readonly onTile: () => void;

  /** @param onTile told whenever a tile has arrived */
  constructor(revision: MapRevision, onTile: () => void) {
    this.revision = revision;
    this.onTile = onTile;
  }

  /** The tile if it is here; otherwise null, and it is on its way. */
  get(plane: Plane, level: number, column: number, row: number): Tile | null {
    const key = `${plane}/${level}/${column}/${row}`;
    const tile = this.tiles.get(key);
    if (tile === 'coming') return null;
    if (tile) {
      this.tiles.delete(key);
      this.tiles.set(key, tile);
      return tile;
    }
    this.tiles.set(key, 'coming');
    void this.fetch(key, plane, level, column, row);
    return null;
  }

  private async fetch(key: string, plane: Plane, level: number, column: number, row: number): Promise<void> {
    try {
      this.tiles.set(key, await fetchTile(this.revision, plane, level, column, row));
      this.trim();
      this.onTile();
    } catch {
      // Asked for again when the view is next drawn.
      this.tiles.delete(key);
    }
  }

  private trim(): void {
    for (const [key, tile] of this.tiles) {
      if (this.tiles.size <= KEPT) return;
      if (tile !== 'coming') this.tiles.delete(key);
    }
  }
}

export { TILE };
