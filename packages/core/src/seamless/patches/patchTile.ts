import type { Size } from '../../math/size.ts';
import type { Image } from '../../image/image.ts';
import { bandedCut, softenedCut } from '../ends/bandedCut.ts';
import { CutSide } from './minCut.ts';
import { seamCost, type Window } from '../ends/seamCost.ts';

export type Place = readonly [x: number, y: number];

/** A patch of the source laid into the tile. */
export interface Patch {
  to: Place;
  from: Place;
  /** Texel by texel of the patch, how much of it shows: 0 to 1. */
  shows: Float32Array;
}

/** A tile on a torus that is being put together from square patches of a picture. */
export class PatchTile {
  readonly image: Image;
  readonly filled: Uint8Array;
  readonly source: Image;
  readonly side: number;

  /** @param side of a patch, in texels */
  constructor(source: Image, { width, height }: Size, side: number) {
    this.source = source;
    this.side = side;
    this.image = { ...source, width, height, data: new Float32Array(width * height * source.channels) };
    this.filled = new Uint8Array(width * height);
  }

  /** Lays a patch over what is there, up to the least visible boundary. */
  put(to: Place, from: Place): Patch {
    const patch = { to, from, shows: this.joined(to, from) };
    layPatch(this.image, this.source, this.side, patch);
    const { width, height } = this.image;
    for (let y = 0; y < this.side; y++) {
      const row = ((to[1] + y) % height) * width;
      for (let x = 0; x < this.side; x++) this.filled[row + ((to[0] + x) % width)] = 1;
    }
    return patch;
  }

  /** Where a patch shows: in all that was empty, and in what was not up to the least visible boundary. */
  private joined(to: Place, from: Place): Float32Array {
    const { side } = this;
    const { difference, kind, any } = this.meeting(to, from);
    const shows = new Float32Array(side * side);
    if (!any) return shows.fill(1);
    const wide = side + 2;
    holdBorders(kind, wide);
    const soft = softenedCut(bandedCut(difference, kind, wide, wide), kind, wide);
    for (let y = 0; y < side; y++) shows.set(soft.subarray((y + 1) * wide + 1, (y + 1) * wide + 1 + side), y * side);
    return shows;
  }

  /** How a patch meets what is there, with a rim of what lies around it, which stays as it is. */
  private meeting(to: Place, from: Place): { difference: Int32Array; kind: Uint8Array; any: boolean } {
    const { side, source, filled, image: tile } = this;
    const { channels } = source;
    const wide = side + 2;
    const kind = new Uint8Array(wide * wide).fill(CutSide.outside);
    const old = emptyWindow(wide, channels);
    const fresh = emptyWindow(wide, channels);
    let [any, empty] = [false, false];
    for (let y = -1; y <= side; y++) {
      const row = ((to[1] + y + tile.height) % tile.height) * tile.width;
      for (let x = -1; x <= side; x++) {
        const texel = row + ((to[0] + x + tile.width) % tile.width);
        const isRim = x < 0 || y < 0 || x === side || y === side;
        const at = (y + 1) * wide + x + 1;
        if (!isRim) {
          const start = ((from[1] + y) * source.width + from[0] + x) * channels;
          fresh.known[at] = 1;
          for (let c = 0; c < channels; c++) fresh.values[at * channels + c] = source.data[start + c]!;
        }
        if (filled[texel] === 0) {
          if (isRim) continue;
          kind[at] = CutSide.fresh;
          empty = true;
          continue;
        }
        any = true;
        kind[at] = isRim ? CutSide.old : CutSide.either;
        old.known[at] = 1;
        for (let c = 0; c < channels; c++) old.values[at * channels + c] = tile.data[texel * channels + c]!;
      }
    }
    // Where nothing was empty, what is there was joined to itself in a narrow place: the middle makes another join of it.
    if (!empty) fillMiddle(kind, wide);
    const difference = any ? seamCost(old, fresh) : new Int32Array(0);
    return { difference, kind, any };
  }
}

const emptyWindow = (width: number, channels: number): Window => ({
  ...{ width, channels },
  values: new Float32Array(width * width * channels),
  known: new Uint8Array(width * width),
});

/** The middle third of a patch shows, whatever was there. */
function fillMiddle(kind: Uint8Array, wide: number): void {
  const [from, to] = [Math.round(wide / 3), Math.round((2 * wide) / 3)];
  for (let y = from; y < to; y++) kind.fill(CutSide.fresh, y * wide + from, y * wide + to);
}

/** @param side of the patch, in texels */
export function layPatch(tile: Image, source: Image, side: number, { to, from, shows }: Patch): void {
  const { channels } = source;
  for (let y = 0; y < side; y++) {
    const row = ((to[1] + y) % tile.height) * tile.width;
    for (let x = 0; x < side; x++) {
      const share = shows[y * side + x]!;
      if (share === 0) continue;
      const at = (row + ((to[0] + x) % tile.width)) * channels;
      const texel = ((from[1] + y) * source.width + from[0] + x) * channels;
      for (let c = 0; c < channels; c++) {
        tile.data[at + c] = tile.data[at + c]! * (1 - share) + source.data[texel + c]! * share;
      }
    }
  }
}

/**
 * Where there is but one picture no difference can be told, and a cut there would seem to cost nothing: texels beside the
 * new alone are new, those beside the old alone stay old.
 */
function holdBorders(kind: Uint8Array, wide: number): void {
  const before = kind.slice();
  const beside = (at: number, what: number): boolean =>
    before[at - 1] === what || before[at + 1] === what || before[at - wide] === what || before[at + wide] === what;
  for (let at = wide; at < kind.length - wide; at++) {
    if (before[at] !== CutSide.either) continue;
    if (beside(at, CutSide.fresh)) kind[at] = CutSide.fresh;
    else if (beside(at, CutSide.old)) kind[at] = CutSide.old;
  }
}
