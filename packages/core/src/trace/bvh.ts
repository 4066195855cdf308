import { sharedFloat32, sharedUint32 } from '../sharedArrays.ts';
import type { Scene } from './scene.ts';

/**
 * A binary bounding volume hierarchy over a scene's triangles in flat, shareable arrays. Node 0 is the root;
 * a node's two children lie next to each other.
 */
export interface Bvh {
  /** min x, y, z, max x, y, z for each node. */
  bounds: Float32Array;
  /** First child (inner node) or first place in `order` (leaf) for each node. */
  first: Uint32Array;
  /** Triangles in a leaf; 0 for an inner node. */
  counts: Uint32Array;
  /** Triangle numbers, leaf by leaf. */
  order: Uint32Array;
  /** The corners of each triangle in that order, nine floats: what a leaf is tested against lies together. */
  corners: Float32Array;
}

const BINS = 16;
const LEAF = 4;
/** Cost of visiting a node relative to testing one triangle. */
const VISIT_COST = 1.2;

/**
 * Builds the hierarchy by the surface area heuristic over 16 bins (Wald, "On fast Construction of SAH-based
 * Bounding Volume Hierarchies", 2007).
 * @param onProgress told the share of triangles placed, 0 to 1
 */
export function buildBvh(scene: Scene, onProgress?: (share: number) => void): Bvh {
  const triangles = scene.indices.length / 3;
  const boxes = triangleBoxes(scene);
  const order = sharedUint32(triangles);
  for (let t = 0; t < triangles; t++) order[t] = t;
  const capacity = Math.max(1, 2 * triangles);
  const bounds = sharedFloat32(capacity * 6);
  const first = sharedUint32(capacity);
  const counts = sharedUint32(capacity);
  const bins = new BinnedSplit();

  let nodes = 1;
  let placed = 0;
  const stack: number[] = [0, 0, triangles];
  while (stack.length > 0) {
    const end = stack.pop()!;
    const start = stack.pop()!;
    const node = stack.pop()!;
    const count = end - start;
    const split = bins.find(boxes, order, start, end, bounds, node);
    if (split === null || count <= LEAF) {
      first[node] = start;
      counts[node] = count;
      placed += count;
      if (onProgress && (placed & 0x3fff) < count) onProgress(placed / triangles);
      continue;
    }
    const middle = partition(boxes, order, start, end, split);
    first[node] = nodes;
    stack.push(nodes + 1, middle, end, nodes, start, middle);
    nodes += 2;
  }
  return {
    bounds: bounds.subarray(0, nodes * 6),
    first: first.subarray(0, nodes),
    counts: counts.subarray(0, nodes),
    order,
    corners: cornersInOrder(scene, order),
  };
}

function cornersInOrder({ positions, indices }: Scene, order: Uint32Array): Float32Array {
  const corners = sharedFloat32(order.length * 9);
  for (let i = 0; i < order.length; i++) {
    for (let c = 0; c < 3; c++) {
      const from = indices[order[i]! * 3 + c]! * 3;
      for (let k = 0; k < 3; k++) corners[i * 9 + c * 3 + k] = positions[from + k]!;
    }
  }
  return corners;
}

/** min x, y, z, max x, y, z of each triangle. */
function triangleBoxes({ positions, indices }: Scene): Float32Array {
  const boxes = new Float32Array(indices.length * 2);
  for (let t = 0, box = 0; t < indices.length; t += 3, box += 6) {
    const a = indices[t]! * 3;
    const b = indices[t + 1]! * 3;
    const c = indices[t + 2]! * 3;
    for (let k = 0; k < 3; k++) {
      const pa = positions[a + k]!;
      const pb = positions[b + k]!;
      const pc = positions[c + k]!;
      boxes[box + k] = Math.min(pa, pb, pc);
      boxes[box + 3 + k] = Math.max(pa, pb, pc);
    }
  }
  return boxes;
}

interface Split {
  axis: number;
  origin: number;
  scale: number;
  /** Triangles in bins below this go left. */
  bin: number;
}

/** Finds the cheapest binned split of a range of triangles, reusing its tables from node to node. */
class BinnedSplit {
  private readonly counts = new Int32Array(3 * BINS);
  private readonly boxes = new Float64Array(3 * BINS * 6);
  private readonly leftArea = new Float64Array(BINS);
  private readonly leftCount = new Int32Array(BINS);
  private readonly box = new Float64Array(6);
  private readonly centre = new Float64Array(6);

  /** Writes the node's bounds and returns the best split, or null if a leaf is cheaper or nothing separates. */
  find(
    boxes: Float32Array,
    order: Uint32Array,
    start: number,
    end: number,
    bounds: Float32Array,
    node: number,
  ): Split | null {
    const { box } = this;
    resetBox(box, 0);
    /** Bounds of the triangles' centres, doubled: the sum of low and high side needs no halving. */
    const { centre } = this;
    resetBox(centre, 0);
    for (let i = start; i < end; i++) {
      const at = order[i]! * 6;
      for (let k = 0; k < 3; k++) {
        const low = boxes[at + k]!;
        const high = boxes[at + 3 + k]!;
        if (low < box[k]!) box[k] = low;
        if (high > box[3 + k]!) box[3 + k] = high;
        const twice = low + high;
        if (twice < centre[k]!) centre[k] = twice;
        if (twice > centre[3 + k]!) centre[3 + k] = twice;
      }
    }
    for (let k = 0; k < 6; k++) bounds[node * 6 + k] = box[k]!;
    const count = end - start;
    if (count <= LEAF) return null;

    const area = halfArea(box, 0);
    this.fill(boxes, order, start, end, centre);
    let best: Split | null = null;
    let bestCost = count > 2 * LEAF ? Infinity : count;
    for (let axis = 0; axis < 3; axis++) {
      const extent = centre[3 + axis]! - centre[axis]!;
      if (!(extent > 0)) continue;
      const { bin, cost } = this.cheapest(axis * BINS);
      const total = VISIT_COST + cost / area;
      if (total < bestCost) {
        bestCost = total;
        best = { axis, origin: centre[axis]!, scale: binScale(extent), bin };
      }
    }
    return best;
  }

  /** Sorts triangles into the bins of all three axes in one pass over them. */
  private fill(boxes: Float32Array, order: Uint32Array, start: number, end: number, centre: Float64Array): void {
    const { counts, boxes: binBoxes } = this;
    counts.fill(0);
    for (let b = 0; b < 3 * BINS; b++) resetBox(binBoxes, b * 6);
    const [x0, y0, z0] = [centre[0]!, centre[1]!, centre[2]!];
    const sx = binScale(centre[3]! - x0);
    const sy = binScale(centre[4]! - y0);
    const sz = binScale(centre[5]! - z0);
    for (let i = start; i < end; i++) {
      const at = order[i]! * 6;
      const lowX = boxes[at]!;
      const lowY = boxes[at + 1]!;
      const lowZ = boxes[at + 2]!;
      const highX = boxes[at + 3]!;
      const highY = boxes[at + 4]!;
      const highZ = boxes[at + 5]!;
      for (let axis = 0; axis < 3; axis++) {
        const place =
          axis === 0 ? (lowX + highX - x0) * sx : axis === 1 ? (lowY + highY - y0) * sy : (lowZ + highZ - z0) * sz;
        const bin = axis * BINS + (place | 0);
        counts[bin]!++;
        const b = bin * 6;
        if (lowX < binBoxes[b]!) binBoxes[b] = lowX;
        if (lowY < binBoxes[b + 1]!) binBoxes[b + 1] = lowY;
        if (lowZ < binBoxes[b + 2]!) binBoxes[b + 2] = lowZ;
        if (highX > binBoxes[b + 3]!) binBoxes[b + 3] = highX;
        if (highY > binBoxes[b + 4]!) binBoxes[b + 4] = highY;
        if (highZ > binBoxes[b + 5]!) binBoxes[b + 5] = highZ;
      }
    }
  }

  /** The cheapest place to split between the bins of one axis. */
  private cheapest(from: number): { bin: number; cost: number } {
    const { counts, boxes: binBoxes, leftArea, leftCount, box } = this;
    resetBox(box, 0);
    let sum = 0;
    for (let b = 0; b < BINS - 1; b++) {
      growBox(box, binBoxes, (from + b) * 6);
      sum += counts[from + b]!;
      leftCount[b] = sum;
      leftArea[b] = sum > 0 ? halfArea(box, 0) : 0;
    }
    resetBox(box, 0);
    sum = 0;
    let bin = -1;
    let cost = Infinity;
    for (let b = BINS - 1; b > 0; b--) {
      growBox(box, binBoxes, (from + b) * 6);
      sum += counts[from + b]!;
      if (sum === 0 || leftCount[b - 1] === 0) continue;
      const here = leftArea[b - 1]! * leftCount[b - 1]! + halfArea(box, 0) * sum;
      if (here < cost) {
        cost = here;
        bin = b;
      }
    }
    return { bin, cost };
  }
}

/** Bins for each unit along an axis; a little short of the last, so that the farthest falls into it. */
function binScale(extent: number): number {
  return extent > 0 ? (BINS * (1 - 1e-9)) / extent : 0;
}

function partition(
  boxes: Float32Array,
  order: Uint32Array,
  start: number,
  end: number,
  { axis, origin, scale, bin }: Split,
): number {
  let left = start;
  let right = end;
  while (left < right) {
    const triangle = order[left]!;
    const at = triangle * 6;
    const here = ((boxes[at + axis]! + boxes[at + 3 + axis]! - origin) * scale) | 0;
    if (here < bin) left++;
    else {
      right--;
      order[left] = order[right]!;
      order[right] = triangle;
    }
  }
  return left;
}

function resetBox(box: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    box[at + k] = Infinity;
    box[at + 3 + k] = -Infinity;
  }
}

function growBox(box: Float64Array, other: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    if (other[at + k]! < box[k]!) box[k] = other[at + k]!;
    if (other[at + 3 + k]! > box[3 + k]!) box[3 + k] = other[at + 3 + k]!;
  }
}

function halfArea(box: Float64Array, at: number): number {
  const x = box[at + 3]! - box[at]!;
  const y = box[at + 4]! - box[at + 1]!;
  const z = box[at + 5]! - box[at + 2]!;
  return x * y + y * z + z * x;
}
