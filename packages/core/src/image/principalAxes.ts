/** Turns after which nothing is left to turn. */
const SWEEPS = 24;

/**
 * The axes along which colours vary independently of each other: eigenvectors of their covariance, by Jacobi's turns
 * (Golub and Van Loan, "Matrix Computations", section 8.5; from memory).
 * @param samples texels of `channels` values each
 * @returns one axis a row, `channels` rows of unit length, upright on each other
 */
export function principalAxes(samples: Float32Array, channels: number): Float64Array {
  const n = channels;
  const axes = new Float64Array(n * n);
  for (let k = 0; k < n; k++) axes[k * n + k] = 1;
  if (n === 1) return axes;
  const a = covarianceOf(samples, n);
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    for (let p = 0; p < n; p++) {
      for (let q = p + 1; q < n; q++) {
        const between = a[p * n + q]!;
        if (Math.abs(between) < 1e-15) continue;
        const theta = (a[q * n + q]! - a[p * n + p]!) / (2 * between);
        const tan = (theta < 0 ? -1 : 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const cos = 1 / Math.sqrt(tan * tan + 1);
        const sin = tan * cos;
        turn(a, n, p, q, cos, sin, 'columns');
        turn(a, n, p, q, cos, sin, 'rows');
        turn(axes, n, p, q, cos, sin, 'rows');
      }
    }
  }
  return axes;
}

function turn(
  matrix: Float64Array,
  n: number,
  p: number,
  q: number,
  cos: number,
  sin: number,
  what: 'rows' | 'columns',
): void {
  const [step, line] = what === 'rows' ? [1, n] : [n, 1];
  for (let i = 0; i < n; i++) {
    const [at, other] = [p * line + i * step, q * line + i * step];
    const [x, y] = [matrix[at]!, matrix[other]!];
    matrix[at] = cos * x - sin * y;
    matrix[other] = sin * x + cos * y;
  }
}

function covarianceOf(samples: Float32Array, n: number): Float64Array {
  const count = samples.length / n;
  const mean = new Float64Array(n);
  for (let i = 0; i < samples.length; i++) mean[i % n]! += samples[i]! / count;
  const covariance = new Float64Array(n * n);
  for (let at = 0; at < samples.length; at += n) {
    for (let p = 0; p < n; p++) {
      const off = samples[at + p]! - mean[p]!;
      for (let q = p; q < n; q++) covariance[p * n + q]! += (off * (samples[at + q]! - mean[q]!)) / count;
    }
  }
  for (let p = 0; p < n; p++) for (let q = 0; q < p; q++) covariance[p * n + q] = covariance[q * n + p]!;
  return covariance;
}
