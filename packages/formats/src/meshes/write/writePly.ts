import type { Mesh } from '@zographos/core/mesh';

/**
 * Writes one object as binary little-endian PLY with normals and all its UV sets: s and t, then s1 and t1, and so on.
 */
export function writePly({ positions, normals, uvSets, indices }: Mesh): Uint8Array<ArrayBuffer> {
  const vertices = positions.length / 3;
  const triangles = indices.length / 3;
  const names = ['x', 'y', 'z', 'nx', 'ny', 'nz', ...uvSets.flatMap((_, set) => [`s${set || ''}`, `t${set || ''}`])];
  const header = new TextEncoder().encode(
    `ply\nformat binary_little_endian 1.0\nelement vertex ${vertices}\n` +
      names.map((name) => `property float ${name}\n`).join('') +
      `element face ${triangles}\nproperty list uchar uint vertex_indices\nend_header\n`,
  );
  const stride = names.length * 4;
  const bytes = new Uint8Array(header.length + vertices * stride + triangles * 13);
  bytes.set(header);
  const view = new DataView(bytes.buffer, header.length);
  for (let v = 0; v < vertices; v++) {
    for (let k = 0; k < 3; k++) {
      view.setFloat32(v * stride + k * 4, positions[v * 3 + k]!, true);
      view.setFloat32(v * stride + 12 + k * 4, normals[v * 3 + k]!, true);
    }
    uvSets.forEach(({ coords }, set) => {
      for (let k = 0; k < 2; k++) view.setFloat32(v * stride + 24 + set * 8 + k * 4, coords[v * 2 + k]!, true);
    });
  }
  const facesAt = vertices * stride;
  for (let t = 0; t < triangles; t++) {
    view.setUint8(facesAt + t * 13, 3);
    for (let c = 0; c < 3; c++) view.setUint32(facesAt + t * 13 + 1 + c * 4, indices[t * 3 + c]!, true);
  }
  return bytes;
}
