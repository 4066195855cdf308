import { halve } from '../../image/filter/halve.ts';
import type { Image } from '../../image/image.ts';
import { randomNumbers } from '../../math/randomNumbers.ts';
import type { PatchTile } from './patchTile.ts';
import type { Place } from './patchMeeting.ts';

/**
 * Chooses where patches are taken from: where they fit what is there already, not where others were taken from, with some
 * chance in it.
 */
export class PatchSearch {
  private readonly random: () => number;
  private readonly source: Image;
  private readonly side: number;
  private readonly variety: number;
  private readonly across: number;
  private readonly up: number;
  /** How often each place, or one close to it, was used. */
  private readonly used: Float32Array;

  /** @param side of a patch, in texels @param variety how much worse than the best a patch may fit */
  constructor(source: Image, side: number, { variety, seed }: { variety: number; seed: number }) {
    this.random = randomNumbers(seed);
    this.source = source;
    this.side = side;
    this.variety = variety;
    this.across = source.width - side + 1;
    this.up = source.height - side + 1;
    this.used = new Float32Array(this.across * this.up);
  }

  /** A place of the source for a patch at a place of the tile; by chance alone where nothing is there yet. */
  choose(tile: PatchTile, to: Place): Place {
    const { across, up, used, variety, random, source } = this;
    const known = knownTexels(tile, to, 1, tile.source);
    const { channels, width } = source;
    let [least, best] = [Infinity, 0];
    for (let y = 0; y < up; y++) {
      for (let x = 0; x < across; x++) {
        // Chance worsens each fit by itself, so that a hair's breadth between two does not change all that follows.
        const worse = (1 + used[y * across + x]!) * (1 + (known.at.length > 0 ? variety : 1) * random());
        const cost = (unlikeness(known, source.data, (y * width + x) * channels, least / worse) + 1e-9) * worse;
        if (cost >= least) continue;
        least = cost;
        best = y * across + x;
      }
    }
    const chosen = [best % across, Math.floor(best / across)] as const;
    this.markUsed(chosen);
    return chosen;
  }

  /** Places close to one that was used look the same: they count worse, the closer the worse. */
  private markUsed([x0, y0]: Place): void {
    const { side, across, up, used } = this;
    for (let y = Math.max(0, y0 - side); y < Math.min(up, y0 + side); y++) {
      for (let x = Math.max(0, x0 - side); x < Math.min(across, x0 + side); x++) {
        used[y * across + x]! += Math.max(0, 1 - Math.hypot(x - x0, y - y0) / side);
      }
    }
  }
}

/** A picture reduced by a whole number. */
export interface Reduced {
  image: Image;
  times: number;
}

/** A picture, and ever smaller ones of it, each a quarter as long: the smallest first, reduced less than `most` times. */
export function reducedPictures(image: Image, most: number): Reduced[] {
  const all: Reduced[] = [{ image, times: 1 }];
  while (all[0]!.times * 4 < most) all.unshift({ image: halve(halve(all[0]!.image)), times: all[0]!.times * 4 });
  return all;
}

/**
 * The place about another that fits best what is there: first among places of a reduced source, and then among those
 * between them.
 * @param reach how far it may be off, in texels
 * @param sources of `reducedPictures`
 */
export function bestAbout(tile: PatchTile, to: Place, start: Place, reach: number, sources: readonly Reduced[]): Place {
  const { source, side } = tile;
  let [best, off] = [start, reach];
  for (const { image, times } of sources) {
    const steps = Math.ceil(off / times);
    const [lastX, lastY] = [Math.floor((source.width - side) / times), Math.floor((source.height - side) / times)];
    const middleX = Math.max(0, Math.min(lastX, Math.round(best[0] / times)));
    const middleY = Math.max(0, Math.min(lastY, Math.round(best[1] / times)));
    best = [middleX * times, middleY * times];
    off = times;
    const known = knownTexels(tile, to, times, image);
    if (known.at.length === 0) continue;
    let least = Infinity;
    for (let y = Math.max(0, middleY - steps); y <= Math.min(lastY, middleY + steps); y++) {
      for (let x = Math.max(0, middleX - steps); x <= Math.min(lastX, middleX + steps); x++) {
        const sum = unlikeness(known, image.data, (y * image.width + x) * image.channels, least);
        if (sum >= least) continue;
        least = sum;
        best = [x * times, y * times];
      }
    }
  }
  return best;
}

/** What is there already of where a patch goes: values, and where they lie in a patch at the source's beginning. */
interface Known {
  at: Int32Array;
  value: Float32Array;
}

/** Blocks along the side of a patch that tell how it fits, at the most. */
const TELLING = 32;

/**
 * @param block of how many texels along each axis the mean is taken
 * @param source reduced by as many
 * @returns values scattered over the patch, so that the first ones tell much of how the others fit
 */
function knownTexels({ image, filled, side }: PatchTile, to: Place, block: number, source: Image): Known {
  const { channels } = source;
  const blocks = Math.floor(side / block);
  const stride = Math.ceil(blocks / TELLING);
  // Where blocks lie in the patch that all is known of; they are small beside patches, so that corners tell.
  const columns: number[] = [];
  const rows: number[] = [];
  const texelAt = (x: number, y: number): number =>
    ((to[1] + y) % image.height) * image.width + ((to[0] + x) % image.width);
  for (let y = 0; y < blocks; y += stride) {
    for (let x = 0; x < blocks; x += stride) {
      const [left, top, right, bottom] = [x * block, y * block, x * block + block - 1, y * block + block - 1];
      if (filled[texelAt(left, top)] === 0 || filled[texelAt(right, bottom)] === 0) continue;
      if (filled[texelAt(right, top)] === 0 || filled[texelAt(left, bottom)] === 0) continue;
      columns.push(x);
      rows.push(y);
    }
  }
  const count = columns.length;
  const known: Known = { at: new Int32Array(count * channels), value: new Float32Array(count * channels) };
  // Of large blocks no more than four times four texels are looked at.
  const apart = Math.ceil(block / 4);
  const first = apart >> 1;
  const step = scatteringStep(count);
  for (let i = 0, k = 0; i < count; i++, k = (k + step) % count) {
    const [x, y] = [columns[k]!, rows[k]!];
    for (let c = 0; c < channels; c++) known.at[i * channels + c] = (y * source.width + x) * channels + c;
    for (let j = first; j < block; j += apart) {
      const row = ((to[1] + y * block + j) % image.height) * image.width;
      for (let l = first; l < block; l += apart) {
        const texel = (row + ((to[0] + x * block + l) % image.width)) * channels;
        for (let c = 0; c < channels; c++) known.value[i * channels + c]! += image.data[texel + c]!;
      }
    }
  }
  const taken = Math.ceil((block - first) / apart) ** 2;
  known.value.forEach((sum, i) => (known.value[i] = sum / taken));
  return known;
}

/** A step by which all of so many places are come to, far apart. */
function scatteringStep(count: number): number {
  const common = (a: number, b: number): number => (b === 0 ? a : common(b, a % b));
  let step = Math.max(1, Math.round(count * 0.618));
  while (common(count, step) > 1) step++;
  return step;
}

/** Values after which it is asked whether a place is out of the question. */
const SPELL = 24;

/** How unlike what is there a patch is: mean squares, or something above `limit` as soon as that is certain. */
function unlikeness({ at, value }: Known, data: Float32Array, shift: number, limit: number): number {
  const count = at.length;
  const most = limit * count;
  let sum = 0;
  for (let k = 0; k < count;) {
    for (const end = Math.min(count, k + SPELL); k < end; k++) {
      const off = data[at[k]! + shift]! - value[k]!;
      sum += off * off;
    }
    if (sum > most) return Infinity;
  }
  return count > 0 ? sum / count : 0;
}
