import type { LayeredSurface } from '../../surface/layeredSurface.ts';
import type { SourcePlaces } from '../sources.ts';

/** Bits of a place along each axis. */
const BITS = 10;

/**
 * Places in the order of a curve that fills space (Morton 1966): those that follow each other lie near each other, so that
 * what drops meet on their ways stays in the nearest memory.
 */
export function inOrderOfPlace(
  { triangles, weights }: SourcePlaces,
  { receiver: { positions, indices } }: Pick<LayeredSurface, 'receiver'>,
): SourcePlaces {
  const low = [Infinity, Infinity, Infinity] as [number, number, number];
  let side = 1e-9;
  for (const axis of [0, 1, 2] as const) {
    let high = -Infinity;
    for (let i = axis; i < positions.length; i += 3) {
      low[axis] = Math.min(low[axis], positions[i]!);
      high = Math.max(high, positions[i]!);
    }
    side = Math.max(side, high - low[axis]);
  }
  const [x, y, z] = low;
  const scale = (2 ** BITS - 1) / side;
  const codes = new Uint32Array(triangles.length);
  for (let i = 0; i < codes.length; i++) {
    const first = indices[triangles[i]! * 3]! * 3;
    codes[i] =
      spread((positions[first]! - x) * scale) |
      (spread((positions[first + 1]! - y) * scale) << 1) |
      (spread((positions[first + 2]! - z) * scale) << 2);
  }
  const order = sortedBy(codes);
  const ordered: SourcePlaces = {
    triangles: new Uint32Array(triangles.length),
    weights: new Float32Array(weights.length),
  };
  for (let i = 0; i < order.length; i++) {
    const from = order[i]!;
    ordered.triangles[i] = triangles[from]!;
    ordered.weights[i * 2] = weights[from * 2]!;
    ordered.weights[i * 2 + 1] = weights[from * 2 + 1]!;
  }
  return ordered;
}

/** The bits of a number, each followed by two zeros. */
function spread(value: number): number {
  let bits = value & (2 ** BITS - 1);
  bits = (bits | (bits << 16)) & 0x30000ff;
  bits = (bits | (bits << 8)) & 0x300f00f;
  bits = (bits | (bits << 4)) & 0x30c30c3;
  return (bits | (bits << 2)) & 0x9249249;
}

/** The numbers of codes from the least on, those of equal ones in their order: by halves of their bits, the lower first. */
function sortedBy(codes: Uint32Array): Uint32Array {
  let order = new Uint32Array(codes.length);
  for (let i = 0; i < order.length; i++) order[i] = i;
  for (const shift of [0, 15]) {
    const begins = new Uint32Array(2 ** 15 + 1);
    for (let i = 0; i < codes.length; i++) begins[((codes[i]! >>> shift) & 0x7fff) + 1]!++;
    for (let k = 0; k < 2 ** 15; k++) begins[k + 1]! += begins[k]!;
    const next = new Uint32Array(order.length);
    for (let k = 0; k < order.length; k++) next[begins[(codes[order[k]!]! >>> shift) & 0x7fff]!++] = order[k]!;
    order = next;
  }
  return order;
}
