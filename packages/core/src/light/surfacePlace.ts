/** What has a surface: a scene, or a receiver. */
export interface PlacedSurface {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
}

/**
 * Writes the place and the unit normal between a triangle's corners.
 * @param wb, wc weights of its second and third corner
 * @param places, normals told x, y, z from `at` on; a normal that is none is 0
 */
export function placeOn(
  { positions, normals: given, indices }: PlacedSurface,
  triangle: number,
  wb: number,
  wc: number,
  places: Float64Array,
  normals: Float64Array,
  at: number,
): void {
  const a = indices[triangle * 3]! * 3;
  const b = indices[triangle * 3 + 1]! * 3;
  const c = indices[triangle * 3 + 2]! * 3;
  const wa = 1 - wb - wc;
  let square = 0;
  for (let k = 0; k < 3; k++) {
    places[at + k] = positions[a + k]! * wa + positions[b + k]! * wb + positions[c + k]! * wc;
    const n = given[a + k]! * wa + given[b + k]! * wb + given[c + k]! * wc;
    normals[at + k] = n;
    square += n * n;
  }
  const scale = square > 0 ? 1 / Math.sqrt(square) : 0;
  for (let k = 0; k < 3; k++) normals[at + k]! *= scale;
}
