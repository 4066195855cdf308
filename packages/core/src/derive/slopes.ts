import type { Image } from '../image/image.ts';
import { wrapped } from '../image/sample.ts';
import type { Border } from '../image/filter/resample.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import { slopesInKernel, type CrossWeights } from './slopesInKernel.ts';

export const SLOPE_OPERATORS = ['Scharr', 'Sobel'] as const;
export type SlopeOperator = (typeof SLOPE_OPERATORS)[number];

/** Weights across the slope: of the neighbours, and of the middle; with both sides they add up to one half. */
export const CROSS_WEIGHTS: Record<SlopeOperator, CrossWeights> = {
  Scharr: [3 / 32, 10 / 32],
  Sobel: [1 / 8, 2 / 8],
};

/** Slopes of one channel along x and down the rows, a texel; exact for planes. In the kernel in single precision. */
export function slopes(
  height: Image,
  operator: SlopeOperator,
  border: Border,
): { across: Float32Array; down: Float32Array } {
  const across = new Float32Array(height.data.length);
  const down = new Float32Array(height.data.length);
  const team = kernelTeam();
  if (team) slopesInKernel(team, height, CROSS_WEIGHTS[operator], border, across, down);
  else {
    addSlope(height, 'across', operator, border, across);
    addSlope(height, 'down', operator, border, down);
  }
  return { across, down };
}

/** How much a field of directions spreads at each texel: the slope of its x along x and of its y down the rows. */
export function divergence(x: Image, y: Image, operator: SlopeOperator, border: Border): Float32Array<ArrayBuffer> {
  const spread = new Float32Array(x.data.length);
  addSlope(x, 'across', operator, border, spread);
  addSlope(y, 'down', operator, border, spread);
  return spread;
}

function addSlope(
  { width, height: rows, data }: Image,
  axis: 'across' | 'down',
  operator: SlopeOperator,
  wrap: Border,
  out: Float32Array,
): void {
  const [side, middle] = CROSS_WEIGHTS[operator];
  const left = Int32Array.from({ length: width }, (_, x) => wrapped(x - 1, width, wrap));
  const right = Int32Array.from({ length: width }, (_, x) => wrapped(x + 1, width, wrap));
  const isAcross = axis === 'across';
  for (let y = 0; y < rows; y++) {
    const above = wrapped(y - 1, rows, wrap) * width;
    const here = y * width;
    const below = wrapped(y + 1, rows, wrap) * width;
    // At a border that does not repeat, the step is but one texel long.
    const atEnd = wrap === 'clamp' && (isAcross ? false : y === 0 || y === rows - 1) ? 2 : 1;
    for (let x = 0; x < width; x++) {
      const l = left[x]!;
      const r = right[x]!;
      const slope = isAcross
        ? side * (data[above + r]! - data[above + l]! + data[below + r]! - data[below + l]!) +
          middle * (data[here + r]! - data[here + l]!)
        : side * (data[below + l]! - data[above + l]! + data[below + r]! - data[above + r]!) +
          middle * (data[below + x]! - data[above + x]!);
      out[here + x]! += slope * atEnd;
    }
    if (wrap === 'clamp' && isAcross) {
      out[here]! *= 2;
      out[here + width - 1]! *= 2;
    }
  }
}
