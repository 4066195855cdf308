/**
 * Gives vertices at exactly the same position the same number.
 * @param positions x, y, z for each vertex
 * @returns for each vertex the number of the first vertex that shares its position
 */
export function weldPositions(positions: Float32Array): Uint32Array {
  const count = positions.length / 3;
  const bits = new Uint32Array(positions.length);
  // Adding 0 turns -0 into +0, so that both hash and compare alike.
  const scratch = new Float32Array(bits.buffer);
  for (let i = 0; i < positions.length; i++) scratch[i] = positions[i]! + 0;
  let capacity = 16;
  while (capacity < count * 2) capacity *= 2;
  const mask = capacity - 1;
  const table = new Int32Array(capacity).fill(-1);
  const welded = new Uint32Array(count);
  for (let v = 0; v < count; v++) {
    const x = bits[v * 3]!;
    const y = bits[v * 3 + 1]!;
    const z = bits[v * 3 + 2]!;
    let hash = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca77) ^ Math.imul(z, 0xc2b2ae3d);
    hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
    let place = (hash ^ (hash >>> 13)) & mask;
    for (;;) {
      const other = table[place]!;
      if (other < 0) {
        table[place] = v;
        welded[v] = v;
        break;
      }
      if (bits[other * 3] === x && bits[other * 3 + 1] === y && bits[other * 3 + 2] === z) {
        welded[v] = other;
        break;
      }
      place = (place + 1) & mask;
    }
  }
  return welded;
}
