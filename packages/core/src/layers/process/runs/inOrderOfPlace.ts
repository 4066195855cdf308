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
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const axis = i % 3;
    low[axis] = Math.min(low[axis]!, positions[i]!);
    high[axis] = Math.max(high[axis]!, positions[i]!);
  }
  const scale = (2 ** BITS - 1) / Math.max(1e-9, ...high.map((value, axis) => value - low[axis]!));
  const codes = Uint32Array.from(triangles, (triangle) => {
    const first = indices[triangle * 3]! * 3;
    let code = 0;
    for (let axis = 0; axis < 3; axis++) code |= spread((positions[first + axis]! - low[axis]!) * scale) << axis;
    return code;
  });
  const order = sortedBy(codes);
  return {
    triangles: triangles.map((_, i) => triangles[order[i]!]!),
    weights: weights.map((_, i) => weights[order[i >> 1]! * 2 + (i & 1)]!),
  };
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
  let order = Uint32Array.from(codes, (_, i) => i);
  for (const shift of [0, 15]) {
    const begins = new Uint32Array(2 ** 15 + 1);
    for (const code of codes) begins[((code >>> shift) & 0x7fff) + 1]!++;
    for (let k = 0; k < 2 ** 15; k++) begins[k + 1]! += begins[k]!;
    const next = new Uint32Array(order.length);
    for (const i of order) next[begins[(codes[i]! >>> shift) & 0x7fff]!++] = i;
    order = next;
  }
  return order;
}
