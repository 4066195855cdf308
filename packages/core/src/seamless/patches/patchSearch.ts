import type { Image } from '../../image/image.ts';
import { randomNumbers } from '../../math/randomNumbers.ts';
import type { PatchTile, Place } from './patchTile.ts';

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
    const known = knownTexels(tile, to, 1);
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

/** The place about another that fits best what is there, which is looked at every few texels. */
export function bestAbout(tile: PatchTile, to: Place, start: Place, reach: number): Place {
  const { source, side } = tile;
  const { width, height, channels, data } = source;
  const within = (place: number, most: number): number => Math.max(0, Math.min(most, place));
  let best: Place = [within(start[0], width - side), within(start[1], height - side)];
  const known = knownTexels(tile, to, Math.max(2, reach >> 1));
  if (known.at.length === 0) return best;
  let least = Infinity;
  for (let y = Math.max(0, start[1] - reach); y <= Math.min(height - side, start[1] + reach); y++) {
    for (let x = Math.max(0, start[0] - reach); x <= Math.min(width - side, start[0] + reach); x++) {
      const sum = unlikeness(known, data, (y * width + x) * channels, least);
      if (sum >= least) continue;
      least = sum;
      best = [x, y];
    }
  }
  return best;
}

/** What is there already of where a patch goes: values, and where they lie in a patch at the source's beginning. */
interface Known {
  at: Int32Array;
  value: Float32Array;
}

/**
 * @param stride of how many texels along each axis one is looked at
 * @returns values scattered over the patch, so that the first ones tell much of how the others fit
 */
function knownTexels({ image, filled, source, side }: PatchTile, to: Place, stride: number): Known {
  const { channels } = source;
  const [texels, places]: [number[], number[]] = [[], []];
  for (let y = 0; y < side; y += stride) {
    for (let x = 0; x < side; x += stride) {
      const texel = ((to[1] + y) % image.height) * image.width + ((to[0] + x) % image.width);
      if (filled[texel] === 0) continue;
      texels.push(texel * channels);
      places.push((y * source.width + x) * channels);
    }
  }
  const count = texels.length;
  const known: Known = { at: new Int32Array(count * channels), value: new Float32Array(count * channels) };
  const step = scatteringStep(count);
  for (let i = 0, k = 0; i < count; i++, k = (k + step) % count) {
    for (let c = 0; c < channels; c++) {
      known.at[i * channels + c] = places[k]! + c;
      known.value[i * channels + c] = image.data[texels[k]! + c]!;
    }
  }
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
