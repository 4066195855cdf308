import type { Image } from '../../image/image.ts';
import { planeLike } from '../../image/planes.ts';
import { resample } from '../../image/filter/resample.ts';

/** Half the width of windows in which light is told by brightness, in texels; and deviations of brightness that tell nothing. */
const [WINDOW, LEVEL] = [4, 0.04];

/**
 * Light whose borders lie where those of a larger picture do: within small windows it goes by brightness along a straight
 * line (He, Sun and Tang, "Guided Image Filtering", 2010).
 * @param bright of the size of the light @param guide the same, larger
 */
export function guidedFilter(light: Image, bright: Image, guide: Image): Image {
  const mean = (values: (i: number) => number): Float32Array =>
    boxMeans({ ...planeLike(light), data: light.data.map((_, i) => values(i)) }, WINDOW);
  const [l, b] = [mean((i) => light.data[i]!), mean((i) => bright.data[i]!)];
  const both = mean((i) => light.data[i]! * bright.data[i]!);
  const square = mean((i) => bright.data[i]! ** 2);
  const slope = l.map((value, i) => (both[i]! - value * b[i]!) / (square[i]! - b[i]! ** 2 + LEVEL ** 2));
  const rest = l.map((value, i) => value - slope[i]! * b[i]!);
  const large = (values: Float32Array): Float32Array =>
    resample(planeLike(light, boxMeans(planeLike(light, values), WINDOW)), guide, 'linear').data;
  const [slopes, rests] = [large(slope), large(rest)];
  return planeLike(
    guide,
    guide.data.map((value, i) => Math.min(0, slopes[i]! * value + rests[i]!)),
  );
}

/** Means of squares about each texel; those at the border are cut off by it. */
function boxMeans({ width, height, data }: Image, radius: number): Float32Array {
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      row += data[y * width + x]!;
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1]! + row;
    }
  }
  const means = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const [top, bottom] = [Math.max(0, y - radius), Math.min(height, y + radius + 1)];
    for (let x = 0; x < width; x++) {
      const [left, right] = [Math.max(0, x - radius), Math.min(width, x + radius + 1)];
      const at = (i: number, j: number): number => sums[j * (width + 1) + i]!;
      const sum = at(right, bottom) - at(left, bottom) - at(right, top) + at(left, top);
      means[y * width + x] = sum / ((right - left) * (bottom - top));
    }
  }
  return means;
}
