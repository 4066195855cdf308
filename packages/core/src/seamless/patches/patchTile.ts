import type { Size } from '../../math/size.ts';
import type { Image } from '../../image/image.ts';
import { ALL } from '../cut/bandedCut.ts';
import { joined } from './patchCut.ts';
import type { Place, TileOfPatches } from './patchMeeting.ts';

/** A patch of the source laid into the tile. */
export interface Patch {
  to: Place;
  from: Place;
  /** Texel by texel of the patch, how much of it shows, in eighths. */
  shows: Uint8Array;
}

/** A tile on a torus that is being put together from square patches of a picture. */
export class PatchTile implements TileOfPatches {
  readonly image: Image;
  readonly filled: Uint8Array;
  readonly source: Image;
  readonly side: number;

  /**
   * @param side of a patch, in texels
   * @param below what is there already, of the same size, and is laid upon
   */
  constructor(source: Image, { width, height }: Size, side: number, below?: Pick<PatchTile, 'image' | 'filled'>) {
    this.source = source;
    this.side = side;
    this.image = below?.image ?? {
      ...{ ...source, width, height },
      data: new Float32Array(width * height * source.channels),
    };
    this.filled = below?.filled ?? new Uint8Array(width * height);
  }

  /** Lays a patch over what is there, up to the least visible boundary. */
  put(to: Place, from: Place): Patch {
    const patch = { to, from, shows: joined(this, to, from) };
    layPatch(this.image, this.source, this.side, patch);
    const { width, height } = this.image;
    for (let y = 0; y < this.side; y++) {
      const row = ((to[1] + y) % height) * width;
      const [left, right] = [to[0] % width, (to[0] % width) + this.side];
      this.filled.fill(1, row + left, row + Math.min(width, right));
      if (right > width) this.filled.fill(1, row, row + right - width);
    }
    return patch;
  }
}

/**
 * @param side of the patch, in texels
 * @param whole whether texels stand for things and are never mixed
 */
export function layPatch(tile: Image, source: Image, side: number, { to, from, shows }: Patch, whole = false): void {
  const { channels } = source;
  for (let y = 0; y < side; y++) {
    const row = ((to[1] + y) % tile.height) * tile.width;
    const line = ((from[1] + y) * source.width + from[0]) * channels;
    for (let x = 0; x < side;) {
      const start = x;
      const share = shows[y * side + x]!;
      const column = (to[0] + x) % tile.width;
      // As far as as much shows, and no farther than the tile's border.
      const most = Math.min(side, x + tile.width - column);
      while (x < most && shows[y * side + x] === share) x++;
      if (share === 0) continue;
      const at = (row + column) * channels;
      const [first, end] = [line + start * channels, line + x * channels];
      if (share === ALL || (whole && share * 2 >= ALL)) tile.data.set(source.data.subarray(first, end), at);
      else if (!whole) mix(tile.data, at, source.data, first, end, share / ALL);
    }
  }
}

function mix(to: Float32Array, at: number, from: Float32Array, first: number, end: number, share: number): void {
  for (let i = first, k = at; i < end; i++, k++) to[k] = to[k]! * (1 - share) + from[i]! * share;
}
