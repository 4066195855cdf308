/** What belongs to the corners of triangles that are not indexed: so many values for each corner. */
export type CornerValues = readonly { values: Float32Array; size: number }[];

/**
 * Splits each triangle into four at the middles of its edges, as often as the limit allows. Triangles that share an edge
 * split it at the same place, so that nothing tears.
 * @param most triangles there may be at the end
 * @returns the same kinds of values, for more corners
 */
export function subdivide(corners: CornerValues, most: number): Float32Array[] {
  const [first] = corners;
  let triangles = first ? first.values.length / first.size / 3 : 0;
  let all = corners.map(({ values }) => values);
  for (; triangles > 0 && triangles * 4 <= most; triangles *= 4) {
    all = all.map((values, i) => splitOnce(values, corners[i]!.size));
  }
  return all;
}

function splitOnce(values: Float32Array, size: number): Float32Array {
  const split = new Float32Array(values.length * 4);
  const triangle = size * 3;
  for (let from = 0, to = 0; from < values.length; from += triangle, to += triangle * 4) {
    for (let k = 0; k < size; k++) {
      const [a, b, c] = [values[from + k]!, values[from + size + k]!, values[from + 2 * size + k]!];
      const [ab, bc, ca] = [(a + b) / 2, (b + c) / 2, (c + a) / 2];
      const parts = [a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca];
      for (let corner = 0; corner < 12; corner++) split[to + corner * size + k] = parts[corner]!;
    }
  }
  return split;
}
