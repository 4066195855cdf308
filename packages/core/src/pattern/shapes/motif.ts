import { resample } from '../../image/filter/resample.ts';
import type { Image } from '../../image/image.ts';
import { pickChannel } from '../../image/packing.ts';
import { tone } from '../../image/planes.ts';
import { wrapped } from '../../image/sample.ts';
import { ofElements, type Pattern } from '../batch.ts';
import { elementRandom, slopeOf, variedElement, type ElementVariation } from './elements.ts';

export interface MotifOptions {
  /** Of an image in cells. */
  columns: number;
  rows: number;
  /** How far every other row is pushed, in cells. */
  shift: number;
  /** Of a motif, as a share of the largest that fits its cell. */
  size: number;
  /** In degrees, counter-clockwise, and by how much of a whole turn motifs may differ, 0 to 1. */
  direction: number;
  spread: number;
  variation: ElementVariation;
  seed: number;
}

const TURN = 4;
const ACROSS = 5;
const DOWN = 6;

/**
 * An image again and again: its coverage where it has any transparency, else its lightness on screen. Where motifs lie
 * over each other the higher value is seen.
 * @param image as light @param step distance between samples, in tile widths @param aspect height over width of the tile
 */
export function motif(image: Image, step: number, aspect: number, options: MotifOptions): Required<Pattern> {
  const { columns, rows, shift, size, direction, spread, variation, seed } = options;
  // The cell in tile widths, and the motif in it.
  const cell = { width: 1 / columns, height: aspect / rows };
  const scale = Math.min(cell.width / image.width, cell.height / image.height) * size;
  const [width, height] = [image.width * scale, image.height * scale];
  const shown = reducedTo(valuesOf(image), { width: width / step, height: height / step });
  // One that is turned or out of line may reach into the cells around.
  const around = spread > 0 || variation.offset > 0 || direction % 180 !== 0 ? 1 : 0;
  const range = Array.from({ length: 2 * around + 1 }, (_, i) => i - around);
  return ofElements((u, v, place) => {
    place.value = 0;
    place.element = 0;
    const row = Math.floor(v * rows);
    for (const down of range) {
      const x = u * columns + (wrapped(row + down, rows, 'repeat') % 2 === 0 ? 0 : shift);
      const column = Math.floor(x);
      for (const right of range) {
        const element = wrapped(row + down, rows, 'repeat') * columns + wrapped(column + right, columns, 'repeat');
        const offset = (which: number): number =>
          variation.offset === 0 ? 0 : variation.offset * (elementRandom(element, which, seed) - 0.5);
        const ax = (x - column - right - 0.5 - offset(ACROSS)) * cell.width;
        const ay = (v * rows - row - down - 0.5 - offset(DOWN)) * cell.height;
        const turn =
          (direction * Math.PI) / 180 +
          (spread === 0 ? 0 : spread * 2 * Math.PI * (elementRandom(element, TURN, seed) - 0.5));
        const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
        const [mx, my] = [(ax * cos - ay * sin) / width, (ax * sin + ay * cos) / height];
        if (Math.abs(mx) > 0.55 || Math.abs(my) > 0.55) continue;
        const value =
          sampled(shown, mx + 0.5, my + 0.5) *
          variedElement(element, seed, variation, () => slopeOf(element, seed, 2 * mx, 2 * my));
        if (value > place.value) [place.value, place.element] = [value, element + 1];
      }
    }
  });
}

/** One channel of what is drawn, 0 to 1. */
function valuesOf(image: Image): Image {
  const alpha = pickChannel(image, { channel: 3 });
  return alpha.data.some((value) => value < 1) ? alpha : tone(image);
}

/** As large as it is shown, so that it does not shimmer; never larger than it is. */
function reducedTo(image: Image, { width, height }: { width: number; height: number }): Image {
  const size = { width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) };
  return size.width >= image.width || size.height >= image.height ? image : resample(image, size, 'linear', 'clamp');
}

/** Between texel centres; nothing lies outside. @param u, v 0 to 1, v downwards */
function sampled({ width, height, data }: Image, u: number, v: number): number {
  const [x, y] = [u * width - 0.5, v * height - 0.5];
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - left, y - top];
  const at = (i: number, j: number): number => (i < 0 || j < 0 || i >= width || j >= height ? 0 : data[j * width + i]!);
  return (
    (at(left, top) * (1 - fx) + at(left + 1, top) * fx) * (1 - fy) +
    (at(left, top + 1) * (1 - fx) + at(left + 1, top + 1) * fx) * fy
  );
}
