/**
 * Gives vertices at exactly the same position the same number.
 * @param positions x, y, z for each vertex
 * @returns for each vertex the number of the first vertex that shares its position
 */
export const weldPositions = (positions: Float32Array): Uint32Array => weldVertices([[positions, 3]]);

/**
 * Gives vertices that have exactly the same values the same number.
 * @param attributes of the vertices, each with so many values for one of them
 * @returns for each vertex the number of the first vertex that has the same
 * @example weldVertices([[positions, 3], [normals, 3], [uvs, 2]])
 */
export function weldVertices(attributes: readonly (readonly [values: Float32Array, width: number])[]): Uint32Array {
  const width = attributes.reduce((sum, [, own]) => sum + own, 0);
  const [[first, firstWidth] = [new Float32Array(0), 1]] = attributes;
  const count = first.length / firstWidth;
  const bits = new Uint32Array(count * width);
  const scratch = new Float32Array(bits.buffer);
  let offset = 0;
  for (const [values, own] of attributes) {
    for (let v = 0; v < count; v++) {
      // Adding 0 turns -0 into +0, so that both hash and compare alike.
      for (let k = 0; k < own; k++) scratch[v * width + offset + k] = values[v * own + k]! + 0;
    }
    offset += own;
  }
  let capacity = 16;
  while (capacity < count * 2) capacity *= 2;
  const mask = capacity - 1;
  const table = new Int32Array(capacity).fill(-1);
  const welded = new Uint32Array(count);
  for (let v = 0; v < count; v++) {
    let hash = 0;
    for (let i = v * width; i < (v + 1) * width; i++) {
      hash = Math.imul(hash ^ bits[i]!, 0x9e3779b1);
      hash ^= hash >>> 15;
    }
    hash = Math.imul(hash, 0x2c1b3c6d);
    let place = (hash ^ (hash >>> 13)) & mask;
    for (;;) {
      const other = table[place]!;
      if (other < 0) {
        table[place] = v;
        welded[v] = v;
        break;
      }
      let k = 0;
      while (k < width && bits[other * width + k] === bits[v * width + k]) k++;
      if (k === width) {
        welded[v] = other;
        break;
      }
      place = (place + 1) & mask;
    }
  }
  return welded;
}
