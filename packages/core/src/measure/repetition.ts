import { blur } from '../image/filter/blur.ts';
import { fourier2d } from '../math/fourier.ts';
import type { Image } from '../image/image.ts';
import { sizeWithin, type Size } from '../math/size.ts';
import { planeLike, tone } from '../image/planes.ts';
import { resample } from '../image/filter/resample.ts';

/** A place of a tile that gives its repetition away, in shares of the tile, y downwards. */
export interface Telltale {
  x: number;
  y: number;
  /** How much it stands out: standard deviations from what is usual in the tile. */
  strength: number;
  /** It is there twice within the tile, or there is nothing like it. */
  why: 'twin' | 'stands out';
}

export interface Repetition {
  /** How alike a tile is to itself when moved, at most: 0 for not at all, 1 for a smaller tile repeated within it. */
  likeness: number;
  /** By how much it is moved then, in shares of the tile. */
  shift: readonly [x: number, y: number];
  /** How alike it is to its own mirror image, moved anyhow, at most: 1 for a tile that was mirrored to repeat. */
  mirrored: number;
  telltales: Telltale[];
}

/** Longest side of the copy that is measured: repetition is seen from afar. */
const SIDE = 256;

/** Shifts smaller than this share of the tile are the likeness of a place to its neighbours. */
const NEAR = 1 / 12;

/**
 * How much a repeated tile shows that it repeats: the highest peak of the autocorrelation of its tones beyond those of
 * neighbours (Wiener and Khinchin: the transform of the power spectrum), and the features an eye would catch (own
 * definition).
 */
export function repetitionOf(image: Image): Repetition {
  const small = resample(tone(image), sizeWithin(image, SIDE, 2), 'linear', 'repeat');
  const { width, height } = small;
  const even = flattened(small);
  const spectrum = spectrumOf(even);
  const own = correlation(spectrum, (x, y) => y * width + x);
  const power = own[0]!;
  const isPlain = power <= 1e-12;
  let [best, at] = [0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const far = Math.hypot(Math.min(x, width - x) / width, Math.min(y, height - y) / height);
      const value = isPlain ? 0 : own[y * width + x]! / power;
      if (far < NEAR || value <= best) continue;
      best = value;
      at = y * width + x;
    }
  }
  const [dx, dy] = [at % width, Math.floor(at / width)];
  const telltales = [...(best > 0.25 ? twins(even, dx, dy) : []), ...outstanding(small)];
  // A mirror image has its waves along that axis the other way round.
  const mirrored = [
    correlation(spectrum, (x, y) => y * width + ((width - x) % width)),
    correlation(spectrum, (x, y) => ((height - y) % height) * width + x),
  ].map((values) => values.reduce((most, value) => Math.max(most, value), 0));
  return {
    likeness: best,
    shift: [dx / width, dy / height],
    mirrored: isPlain ? 0 : Math.max(...mirrored) / power,
    telltales,
  };
}

/** Without its slow changes, and of mean 0. */
function flattened(image: Image): Image {
  const soft = blur(image, image.width / 12, 'repeat');
  return { ...planeLike(image), data: image.data.map((value, i) => value - soft.data[i]!) };
}

/** The waves of a plane of mean 0, told once for all that it is held against. */
interface Spectrum extends Size {
  re: Float64Array;
  im: Float64Array;
}

function spectrumOf({ width, height, data }: Image): Spectrum {
  const [re, im] = [Float64Array.from(data), new Float64Array(data.length)];
  fourier2d(re, im, width, height);
  return { width, height, re, im };
}

/**
 * The correlation of a plane with another that has the same waves in other places, for each shift.
 * @param of where the wave (x, y) of the plane stands in the other
 */
function correlation({ width, height, re, im }: Spectrum, of: (x: number, y: number) => number): Float64Array {
  const [a, b] = [new Float64Array(re.length), new Float64Array(re.length)];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [i, k] = [y * width + x, of(x, y)];
      a[i] = re[i]! * re[k]! + im[i]! * im[k]!;
      b[i] = im[i]! * re[k]! - re[i]! * im[k]!;
    }
  }
  fourier2d(a, b, width, height, true);
  return a;
}

/** Where a tile is most like itself moved. */
function twins(image: Image, dx: number, dy: number): Telltale[] {
  const { width, height, data } = image;
  const both = planeLike(image);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      both.data[y * width + x] = data[y * width + x]! * data[((y + dy) % height) * width + ((x + dx) % width)]!;
    }
  }
  return peaks(blur(both, width / 48, 'repeat'), 'twin', 4, 3);
}

/** Spots that are much lighter or darker than is usual, at about the size at which an eye catches them. */
function outstanding(image: Image): Telltale[] {
  const [fine, wide] = [blur(image, image.width / 64, 'repeat'), blur(image, image.width / 8, 'repeat')];
  const off = { ...planeLike(image), data: fine.data.map((value, i) => Math.abs(value - wide.data[i]!)) };
  return peaks(off, 'stands out', 6, 4);
}

/** The highest places that stand out by so many deviations and are not close to each other. */
function peaks(plane: Image, why: Telltale['why'], most: number, least: number): Telltale[] {
  const { width, height, data } = plane;
  let [sum, squares] = [0, 0];
  for (const value of data) sum += value;
  const mean = sum / data.length;
  for (const value of data) squares += (value - mean) ** 2;
  const deviation = Math.sqrt(squares / data.length);
  if (deviation < 1e-9) return [];
  const order = [...data.keys()].filter((i) => data[i]! > mean + least * deviation).sort((a, b) => data[b]! - data[a]!);
  const found: Telltale[] = [];
  for (const i of order) {
    const [x, y] = [((i % width) + 0.5) / width, (Math.floor(i / width) + 0.5) / height];
    const isNear = found.some((other) => {
      const [ox, oy] = [Math.abs(other.x - x), Math.abs(other.y - y)];
      return Math.hypot(Math.min(ox, 1 - ox), Math.min(oy, 1 - oy)) < NEAR;
    });
    if (isNear) continue;
    found.push({ x, y, strength: (data[i]! - mean) / deviation, why });
    if (found.length === most) break;
  }
  return found;
}
