export interface LinearSystem {
  /** A symmetric matrix, not below zero, times values. */
  multiply: (values: Float64Array, product: Float64Array) => void;
  /** A rough solution, by which the search goes faster; left out, none. */
  ease?: (rest: Float64Array) => Float64Array;
}

export interface SearchLimits {
  steps: number;
  /** The search ends when what is left, squared, is this share of what there was, or this much. */
  share: number;
  least?: number;
}

/**
 * Solves a symmetric system by conjugate gradients (Hestenes & Stiefel 1952), from where the values are.
 * @param rest what is wanted less what the values give; used up
 * @param values changed in place
 */
export function conjugateGradients(
  { multiply, ease = (rest) => rest }: LinearSystem,
  rest: Float64Array,
  values: Float64Array,
  { steps, share, least = 0 }: SearchLimits,
): void {
  const product = new Float64Array(values.length);
  let eased = ease(rest);
  const way = eased.slice();
  let size = dotProduct(rest, eased);
  const enough = Math.max(size * share, least);
  for (let step = 0; step < steps && size > enough; step++) {
    multiply(way, product);
    const bend = dotProduct(way, product);
    if (!(bend > 0)) return;
    const length = size / bend;
    for (let i = 0; i < values.length; i++) {
      values[i]! += length * way[i]!;
      rest[i]! -= length * product[i]!;
    }
    eased = ease(rest);
    const next = dotProduct(rest, eased);
    for (let i = 0; i < way.length; i++) way[i] = eased[i]! + (next / size) * way[i]!;
    size = next;
  }
}

export function dotProduct(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
