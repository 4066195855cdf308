import type { Size } from '../../math/size.ts';
import type { Image } from '../image.ts';
import { separably } from './separable.ts';
import { tapsOf, type Taps } from './taps.ts';

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
  const { width, height } = image;
  if (width === size.width && height === size.height) return image;
  return separably(
    image,
    size,
    weightsOf(width, size.width, kernel, border),
    weightsOf(height, size.height, kernel, border),
  );
}

const REACH: Record<Exclude<ResampleKernel, 'nearest'>, number> = {
  linear: 1,
  cubic: 2,
  mitchell: 2,
  lanczos2: 2,
  lanczos3: 3,
};

function weightsOf(from: number, to: number, kernel: ResampleKernel, border: Border): Taps {
  const step = from / to;
  const within = (i: number): number =>
    border === 'clamp' ? Math.max(0, Math.min(from - 1, i)) : ((i % from) + from) % from;
  if (kernel === 'nearest') {
    return tapsOf(to, (x, take) => take(Math.min(from - 1, Math.floor((x + 0.5) * step)), 1));
  }
  const scale = Math.max(1, step);
  const reach = REACH[kernel] * scale;
  return tapsOf(to, (x, take) => {
    const middle = (x + 0.5) * step - 0.5;
    const [begin, end] = [Math.ceil(middle - reach), Math.floor(middle + reach)];
    let sum = 0;
    for (let i = begin; i <= end; i++) sum += valueOf(kernel, (i - middle) / scale);
    for (let i = begin; i <= end; i++) take(within(i), valueOf(kernel, (i - middle) / scale) / sum);
  });
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
