import type { Size } from '../bake/blocks.ts';
import type { Image } from './image.ts';

/**
 * Ways to weigh texels by their distance. Linear is a triangle; cubic is Catmull and Rom's; Mitchell's is that of
 * Mitchell and Netravali (1988) with B = C = 1/3; Lanczos' are windowed sincs. Nearest takes texels as they are.
 */
export const RESAMPLE_KERNELS = ['nearest', 'linear', 'cubic', 'mitchell', 'lanczos2', 'lanczos3'] as const;
export type ResampleKernel = (typeof RESAMPLE_KERNELS)[number];

/** What lies beyond the border: its last texels, or the picture again. */
export type Border = 'clamp' | 'repeat';

/**
 * The same picture at another size. When it becomes smaller the kernel is widened, so that every texel counts; values
 * are mixed as they are held, which for colours is light. A constant picture stays constant to the last bit but rounding.
 */
export function resample(image: Image, size: Size, kernel: ResampleKernel, border: Border = 'clamp'): Image {
  const { width, height, channels } = image;
  if (width === size.width && height === size.height) return image;
  const across = weightsOf(width, size.width, kernel, border);
  const up = weightsOf(height, size.height, kernel, border);
  const rows = new Float32Array(size.width * height * channels);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < size.width; x++) {
      const to = (y * size.width + x) * channels;
      for (let i = across.first[x]!; i < across.first[x + 1]!; i++) {
        const from = (y * width + across.at[i]!) * channels;
        const weight = across.weight[i]!;
        for (let c = 0; c < channels; c++) rows[to + c]! += image.data[from + c]! * weight;
      }
    }
  }
  const row = size.width * channels;
  const data = new Float32Array(row * size.height);
  for (let y = 0; y < size.height; y++) {
    for (let i = up.first[y]!; i < up.first[y + 1]!; i++) {
      const from = up.at[i]! * row;
      const weight = up.weight[i]!;
      for (let x = 0; x < row; x++) data[y * row + x]! += rows[from + x]! * weight;
    }
  }
  return { ...image, width: size.width, height: size.height, data };
}

/** The texels that each new one is made of: those from `first` on, up to the next one's. */
interface Weights {
  first: Uint32Array;
  at: Uint32Array;
  weight: Float64Array;
}

const REACH: Record<Exclude<ResampleKernel, 'nearest'>, number> = {
  linear: 1,
  cubic: 2,
  mitchell: 2,
  lanczos2: 2,
  lanczos3: 3,
};

function weightsOf(from: number, to: number, kernel: ResampleKernel, border: Border): Weights {
  const first = new Uint32Array(to + 1);
  const [at, weight]: [number[], number[]] = [[], []];
  const step = from / to;
  const within = (i: number): number =>
    border === 'clamp' ? Math.max(0, Math.min(from - 1, i)) : ((i % from) + from) % from;
  for (let x = 0; x < to; x++) {
    const middle = (x + 0.5) * step - 0.5;
    first[x] = at.length;
    if (kernel === 'nearest') {
      at.push(within(Math.min(from - 1, Math.floor((x + 0.5) * step))));
      weight.push(1);
      continue;
    }
    const scale = Math.max(1, step);
    const reach = REACH[kernel] * scale;
    const begin = at.length;
    let sum = 0;
    for (let i = Math.ceil(middle - reach); i <= Math.floor(middle + reach); i++) {
      const w = valueOf(kernel, (i - middle) / scale);
      if (w === 0) continue;
      at.push(within(i));
      weight.push(w);
      sum += w;
    }
    for (let i = begin; i < weight.length; i++) weight[i]! /= sum;
  }
  first[to] = at.length;
  return { first, at: Uint32Array.from(at), weight: Float64Array.from(weight) };
}

function valueOf(kernel: Exclude<ResampleKernel, 'nearest'>, distance: number): number {
  const x = Math.abs(distance);
  switch (kernel) {
    case 'linear':
      return Math.max(0, 1 - x);
    case 'cubic':
      return cubicOf(x, 0, 0.5);
    case 'mitchell':
      return cubicOf(x, 1 / 3, 1 / 3);
    case 'lanczos2':
      return x < 2 ? sinc(x) * sinc(x / 2) : 0;
    case 'lanczos3':
      return x < 3 ? sinc(x) * sinc(x / 3) : 0;
  }
}

/** Mitchell and Netravali's family of cubics. */
function cubicOf(x: number, b: number, c: number): number {
  if (x < 1) return ((12 - 9 * b - 6 * c) * x ** 3 + (-18 + 12 * b + 6 * c) * x ** 2 + (6 - 2 * b)) / 6;
  if (x < 2) return ((-b - 6 * c) * x ** 3 + (6 * b + 30 * c) * x ** 2 + (-12 * b - 48 * c) * x + (8 * b + 24 * c)) / 6;
  return 0;
}

const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
