import { TexelState } from '../../image/image.ts';

/** No covered texel in this column. */
const NONE = 0xffff;

/** Anything that has values for each texel. */
interface Plane {
  width: number;
  height: number;
  channels: number;
  data: Float32Array | Uint16Array;
}

/**
 * Fills texels near the islands with the value of the nearest texel that belongs to one, by the exact
 * Euclidean distance between texel centres (Felzenszwalb & Huttenlocher, "Distance Transforms of Sampled
 * Functions", 2012, keeping the place as well as the distance). Covered and missed texels are never changed.
 * @param images maps of one layout, all of one size
 * @param states a TexelState for each texel; texels filled become `padding`
 * @param reach how far to fill, in texels; Infinity fills everything
 */
export function padIslands(images: readonly Plane[], states: Uint8Array, reach: number): void {
  if (!(reach > 0) || !images[0]) return;
  const { width, height } = images[0];
  const limit = reach * reach;
  forEachNearest(width, height, states, (at, from, squaredDistance) => {
    if (states[at] !== TexelState.background || squaredDistance > limit) return;
    for (const { data, channels } of images) {
      for (let c = 0; c < channels; c++) data[at * channels + c] = data[from * channels + c]!;
    }
    states[at] = TexelState.padding;
  });
}

/**
 * Visits every texel with the nearest one that is covered, by the exact distance between their centres.
 * @param states covered is what counts as such when a row is reached; nothing is visited if no texel is
 * @param visit told both texels and their squared distance
 */
export function forEachNearest(
  width: number,
  height: number,
  states: Uint8Array,
  visit: (at: number, nearest: number, squaredDistance: number) => void,
): void {
  const nearestRow = nearestRows(width, height, states);
  const envelope = new RowEnvelope(width);
  for (let y = 0; y < height; y++) {
    if (!envelope.build(nearestRow, y)) continue;
    let parabola = 0;
    for (let x = 0; x < width; x++) {
      parabola = envelope.at(parabola, x);
      const column = envelope.column(parabola);
      const row = nearestRow[y * width + column]!;
      visit(y * width + x, row * width + column, (x - column) ** 2 + (y - row) ** 2);
    }
  }
}

/** For each texel the row of the nearest island texel in its column, the upper of two equally near. */
function nearestRows(width: number, height: number, states: Uint8Array): Uint16Array {
  const nearest = new Uint16Array(width * height).fill(NONE);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (states[at]! >= TexelState.covered) nearest[at] = y;
      else if (y > 0) nearest[at] = nearest[at - width]!;
    }
  }
  for (let y = height - 2; y >= 0; y--) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const below = nearest[at + width]!;
      if (below === NONE) continue;
      const here = nearest[at]!;
      if (here === NONE || Math.abs(below - y) < Math.abs(y - here)) nearest[at] = below;
    }
  }
  return nearest;
}

/** The lower envelope of the parabolas (x − column)² + (distance in column)² of one row. */
class RowEnvelope {
  private readonly columns: Int32Array;
  private readonly heights: Float64Array;
  /** Where each parabola takes over from the one before. */
  private readonly from: Float64Array;
  private readonly width: number;
  private count = 0;

  constructor(width: number) {
    this.width = width;
    this.columns = new Int32Array(width);
    this.heights = new Float64Array(width);
    this.from = new Float64Array(width + 1);
  }

  /** False if no column holds an island texel. */
  build(nearestRow: Uint16Array, y: number): boolean {
    const { width, columns, heights, from } = this;
    let last = -1;
    for (let x = 0; x < width; x++) {
      const row = nearestRow[y * width + x]!;
      if (row === NONE) continue;
      const height = (row - y) ** 2;
      let start = -Infinity;
      while (last >= 0) {
        start = (height + x * x - (heights[last]! + columns[last]! ** 2)) / (2 * (x - columns[last]!));
        if (start > from[last]!) break;
        last--;
      }
      last++;
      columns[last] = x;
      heights[last] = height;
      from[last] = last === 0 ? -Infinity : start;
    }
    this.count = last + 1;
    from[this.count] = Infinity;
    return last >= 0;
  }

  /** The parabola lowest at x, searching on from one that is lowest left of it. */
  at(parabola: number, x: number): number {
    while (this.from[parabola + 1]! < x) parabola++;
    return parabola;
  }

  column(parabola: number): number {
    return this.columns[parabola]!;
  }
}
