import type { MapRevision } from '@zographos/contracts';
import { fetchTile, TILE } from '../../../map/tileStore.ts';

/** Light of a whole map at one of its smaller sizes. */
export interface LightPicture {
  width: number;
  height: number;
  channels: number;
  data: Float32Array;
}

/** Fetches maps of light whole, as large as a view needs them; each is fetched once. */
export class LightPictures {
  private readonly most: number;
  private readonly known = new Map<string, Promise<LightPicture>>();

  /** @param most texels along the longer side */
  constructor(most: number) {
    this.most = most;
  }

  /** Several maps of one size, added texel by texel. @throws Error when one cannot be had; asked again, it is fetched again */
  async sumOf(revisions: readonly MapRevision[]): Promise<LightPicture | null> {
    const [first, ...others] = await Promise.all(revisions.map((revision) => this.load(revision)));
    if (!first || others.length === 0) return first ?? null;
    const data = first.data.slice();
    for (const other of others) for (let i = 0; i < data.length; i++) data[i]! += other.data[i]!;
    return { ...first, data };
  }

  /** Forgets all but these. */
  keepOnly(revisions: readonly MapRevision[]): void {
    for (const id of [...this.known.keys()]) if (!revisions.some((each) => each.id === id)) this.known.delete(id);
  }

  private load(revision: MapRevision): Promise<LightPicture> {
    const known = this.known.get(revision.id);
    if (known) return known;
    const coming = this.fetch(revision);
    this.known.set(revision.id, coming);
    coming.catch(() => this.known.delete(revision.id));
    return coming;
  }

  private async fetch(revision: MapRevision): Promise<LightPicture> {
    const { levels, channels } = revision;
    const fits = levels.findIndex(({ width, height }) => Math.max(width, height) <= this.most);
    const level = fits < 0 ? levels.length - 1 : fits;
    const { width, height, columns, rows } = levels[level]!;
    const data = new Float32Array(width * height * channels);
    const places = Array.from({ length: columns * rows }, (_, i) => ({
      column: i % columns,
      row: Math.floor(i / columns),
    }));
    await Promise.all(
      places.map(async ({ column, row }) => {
        const tile = await fetchTile(revision, 'map', level, column, row);
        for (let y = 0; y < tile.height; y++) {
          const from = y * tile.width * channels;
          const to = ((row * TILE + y) * width + column * TILE) * channels;
          data.set((tile.samples as Float32Array).subarray(from, from + tile.width * channels), to);
        }
      }),
    );
    return { width, height, channels, data };
  }
}
