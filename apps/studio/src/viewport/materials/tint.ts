import { BufferAttribute, type BufferGeometry } from 'three';

/**
 * Lays a colour over each triangle of a geometry whose corners are spread out.
 * @param colors linear r, g, b and how much they count, 0 to 255, for each triangle; null for none
 * @param triangles which triangle each three corners are of
 */
export function setTint(geometry: BufferGeometry, triangles: Uint32Array, colors: Uint8Array | null): void {
  const corners = geometry.getAttribute('position').count;
  const tint =
    (geometry.getAttribute('tint') as BufferAttribute | undefined) ??
    new BufferAttribute(new Uint8Array(corners * 4), 4, true);
  const words = new Uint32Array(tint.array.buffer, tint.array.byteOffset, tint.count);
  const from = colors && new Uint32Array(colors.buffer, colors.byteOffset, colors.length / 4);
  for (let i = 0; i < words.length; i++) words[i] = from ? from[triangles[Math.floor(i / 3)]!]! : 0;
  tint.needsUpdate = true;
  geometry.setAttribute('tint', tint);
}
