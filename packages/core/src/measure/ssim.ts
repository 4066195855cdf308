/** Window and constants of Wang, Bovik, Sheikh & Simoncelli, "Image Quality Assessment", 2004. */
const RADIUS = 5;
const SIGMA = 1.5;
const C1 = 0.01 ** 2;
const C2 = 0.03 ** 2;

/**
 * Structural similarity of two grey pictures, as a mean over windows of 11 × 11 texels that lie wholly inside.
 * @param a, b values 0 to 1
 * @param counts 0 for each texel whose window is left out of the mean
 * @returns 1 for equal pictures; 1 as well where nothing counts
 */
export function ssim(a: Float32Array, b: Float32Array, width: number, height: number, counts?: Uint8Array): number {
  const kernel = Float64Array.from({ length: 2 * RADIUS + 1 }, (_, i) =>
    Math.exp(-((i - RADIUS) ** 2) / (2 * SIGMA * SIGMA)),
  );
  const total = kernel.reduce((sum, weight) => sum + weight, 0);
  kernel.forEach((weight, i) => (kernel[i] = weight / total));
  const mean = (values: Float32Array | Float64Array): Float64Array => blurred(values, width, height, kernel);
  const ma = mean(a);
  const mb = mean(b);
  const aa = mean(products(a, a));
  const bb = mean(products(b, b));
  const ab = mean(products(a, b));
  let sum = 0;
  let windows = 0;
  for (let y = RADIUS; y < height - RADIUS; y++) {
    for (let x = RADIUS; x < width - RADIUS; x++) {
      const i = y * width + x;
      if (counts && counts[i] === 0) continue;
      const product = ma[i]! * mb[i]!;
      const squares = ma[i]! ** 2 + mb[i]! ** 2;
      const covariance = ab[i]! - product;
      const variances = aa[i]! + bb[i]! - squares;
      sum += ((2 * product + C1) * (2 * covariance + C2)) / ((squares + C1) * (variances + C2));
      windows++;
    }
  }
  return windows > 0 ? sum / windows : 1;
}

function products(a: Float32Array, b: Float32Array): Float64Array {
  const all = new Float64Array(a.length);
  for (let i = 0; i < all.length; i++) all[i] = a[i]! * b[i]!;
  return all;
}

function blurred(
  values: Float32Array | Float64Array,
  width: number,
  height: number,
  kernel: Float64Array,
): Float64Array {
  const across = new Float64Array(width * height);
  const both = new Float64Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = RADIUS; x < width - RADIUS; x++) {
      let sum = 0;
      for (let k = -RADIUS; k <= RADIUS; k++) sum += kernel[k + RADIUS]! * values[y * width + x + k]!;
      across[y * width + x] = sum;
    }
  }
  for (let y = RADIUS; y < height - RADIUS; y++) {
    for (let x = RADIUS; x < width - RADIUS; x++) {
      let sum = 0;
      for (let k = -RADIUS; k <= RADIUS; k++) sum += kernel[k + RADIUS]! * across[(y + k) * width + x]!;
      both[y * width + x] = sum;
    }
  }
  return both;
}
