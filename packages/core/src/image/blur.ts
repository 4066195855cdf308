import type { Border } from './resample.ts';
import type { Image } from './image.ts';

/** Boxes laid over each other; four come within a per cent of the bell curve. */
const PASSES = 4;

/**
 * Blurs by a Gaussian of any width at the same cost: extended box filters, four times over, whose variances add up to
 * that of the Gaussian exactly (Gwosdek, Grewenig, Bruhn and Weickert, "Theoretical Foundations of Gaussian Convolution
 * by Extended Box Filtering", 2011). A constant picture stays constant.
 * @param sigma standard deviation in texels; 0 leaves the picture
 */
export function blur(image: Image, sigma: number, border: Border): Image {
  if (!(sigma > 0)) return image;
  const { width, height, channels } = image;
  const box = boxOf((sigma * sigma) / PASSES);
  let from: Float32Array = image.data;
  let to: Float32Array = new Float32Array(image.data.length);
  for (let pass = 0; pass < PASSES * 2; pass++) {
    if (pass < PASSES) alongRows(from, to, width, height, channels, box, border);
    else alongColumns(from, to, width, height, channels, box, border);
    // The picture itself is never written to.
    const spare: Float32Array = from === image.data ? new Float32Array(image.data.length) : from;
    from = to;
    to = spare;
  }
  return { ...image, data: from };
}

/** A box with whole texels up to a radius, and a share of the next one at either end. */
interface Box {
  radius: number;
  /** Weight of the texels at both ends, beside 1 for those within. */
  end: number;
  sum: number;
}

function boxOf(variance: number): Box {
  const radius = Math.floor((Math.sqrt(12 * variance + 1) - 1) / 2);
  const whole = 2 * radius + 1;
  // Solved for: variance · (whole + 2 end) = r (r + 1) (2 r + 1) / 3 + 2 end (r + 1)².
  const end = (variance * whole - (radius * (radius + 1) * whole) / 3) / (2 * ((radius + 1) ** 2 - variance));
  return { radius, end, sum: whole + 2 * end };
}

function indexTable(size: number, reach: number, border: Border): Int32Array {
  return Int32Array.from({ length: size + 2 * reach }, (_, i) => {
    const at = i - reach;
    return border === 'clamp' ? Math.max(0, Math.min(size - 1, at)) : ((at % size) + size) % size;
  });
}

function alongRows(
  from: Float32Array,
  to: Float32Array,
  width: number,
  height: number,
  channels: number,
  { radius, end, sum }: Box,
  border: Border,
): void {
  const reach = radius + 1;
  const table = indexTable(width, reach, border);
  const scale = 1 / sum;
  for (let y = 0; y < height; y++) {
    const row = y * width * channels;
    for (let c = 0; c < channels; c++) {
      const at = row + c;
      let running = 0;
      for (let i = 1; i < 2 * reach; i++) running += from[at + table[i]! * channels]!;
      for (let x = 0; x < width; x++) {
        const before = from[at + table[x]! * channels]!;
        const behind = from[at + table[x + 2 * reach]! * channels]!;
        to[at + x * channels] = (running + end * (before + behind)) * scale;
        running += behind - from[at + table[x + 1]! * channels]!;
      }
    }
  }
}

/** Row by row as well, with a running sum for each column, so that memory is read in order. */
function alongColumns(
  from: Float32Array,
  to: Float32Array,
  width: number,
  height: number,
  channels: number,
  { radius, end, sum }: Box,
  border: Border,
): void {
  const reach = radius + 1;
  const row = width * channels;
  const table = indexTable(height, reach, border);
  const scale = 1 / sum;
  const running = new Float64Array(row);
  for (let i = 1; i < 2 * reach; i++) {
    const at = table[i]! * row;
    for (let x = 0; x < row; x++) running[x]! += from[at + x]!;
  }
  for (let y = 0; y < height; y++) {
    const before = table[y]! * row;
    const behind = table[y + 2 * reach]! * row;
    const next = table[y + 1]! * row;
    const out = y * row;
    for (let x = 0; x < row; x++) {
      const last = from[behind + x]!;
      to[out + x] = (running[x]! + end * (from[before + x]! + last)) * scale;
      running[x]! += last - from[next + x]!;
    }
  }
}
