import { adjust } from '../adjust/adjust.ts';
import { blur } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import type { Border } from '../image/filter/resample.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import { CROSS_WEIGHTS, slopes, type SlopeOperator } from './slopes.ts';
import { normalsInKernel } from './slopesInKernel.ts';

export interface NormalOptions {
  operator: SlopeOperator;
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** Weights of slopes measured ever more widely: at a texel's reach, and at 1/256, 1/64 and 1/16 of the width. */
  scales: readonly number[];
  y: 'up' | 'down';
  /** Unsharp masking of the height beforehand; 0 for none. */
  sharpen: number;
  /** Edge-preserving smoothing of the height beforehand; 0 for none. */
  denoise: number;
}

export const NORMAL_SCALES = [0, 1 / 256, 1 / 64, 1 / 16] as const;

export const DEFAULT_NORMAL: Omit<NormalOptions, 'depth'> = {
  operator: 'Scharr',
  scales: [1, 0, 0, 0],
  y: 'up',
  sharpen: 0,
  denoise: 0,
};

/**
 * Tangent-space normals of a height field, in real terms: a slope of one is 45° whatever the size of the picture.
 * Slopes of several scales are added up by their weights, which are made to add up to one as far as they are above it.
 * In the kernel in single precision: off by less than 1e-5.
 * @param height one channel, 0 to 1
 */
export function normalFromHeight(height: Image, options: NormalOptions, border: Border): Image {
  const { operator, depth, scales, y } = options;
  const { width, height: rows } = height;
  const source = prepared(height, options, border);
  const used = NORMAL_SCALES.map((share, k) => ({ share, weight: scales[k] ?? 0 })).filter(
    ({ weight }) => weight !== 0,
  );
  const blurred = ({ share }: { share: number }): Image => blur(source, share * width, border);
  const scaleX = -depth * width;
  const scaleY = y === 'up' ? -scaleX : scaleX;
  const size = { width, height: rows, channels: 3 };
  const team = kernelTeam();
  const [only] = used;
  if (team && only && used.length === 1) {
    const scales = [scaleX * only.weight, scaleY * only.weight] as const;
    return { ...size, data: normalsInKernel(team, blurred(only), CROSS_WEIGHTS[operator], border, scales) };
  }
  const slopesOf = (scale: { share: number }): Slopes => slopes(blurred(scale), operator, border);
  const { across, down } = added(used, slopesOf, width * rows);
  const data = new Float32Array(width * rows * 3);
  for (let i = 0, at = 0; i < across.length; i++, at += 3) {
    const nx = across[i]! * scaleX;
    const ny = down[i]! * scaleY;
    const inverse = 0.5 / Math.sqrt(nx * nx + ny * ny + 1);
    data[at] = nx * inverse + 0.5;
    data[at + 1] = ny * inverse + 0.5;
    data[at + 2] = inverse + 0.5;
  }
  return { ...size, data };
}

type Slopes = ReturnType<typeof slopes>;

/** Slopes of several scales, by their weights. */
function added<Scale extends { weight: number }>(
  scales: readonly Scale[],
  slopesOf: (scale: Scale) => Slopes,
  texels: number,
): Slopes {
  const sum = { across: new Float32Array(texels), down: new Float32Array(texels) };
  for (const scale of scales) {
    const own = slopesOf(scale);
    for (let i = 0; i < texels; i++) {
      sum.across[i]! += own.across[i]! * scale.weight;
      sum.down[i]! += own.down[i]! * scale.weight;
    }
  }
  return sum;
}

function prepared(height: Image, { sharpen, denoise }: NormalOptions, border: Border): Image {
  return adjust(
    height,
    [
      ...(denoise > 0 ? [{ do: 'denoise', radius: 1 / 256, edge: denoise } as const] : []),
      ...(sharpen > 0 ? [{ do: 'sharpen', radius: 1 / 512, amount: sharpen } as const] : []),
    ],
    border,
  );
}
