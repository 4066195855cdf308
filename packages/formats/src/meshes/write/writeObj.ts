import type { Mesh } from '@zographos/core/mesh';

/**
 * Writes objects as Wavefront OBJ with normals, the first UV set and material slots.
 * @param library the material library that lies beside the file
 */
export function writeObj(meshes: readonly Mesh[], library?: string): Uint8Array<ArrayBuffer> {
  const lines: string[] = library ? [`mtllib ${library}`] : [];
  let vertexBase = 1;
  let uvBase = 1;
  for (const { name, positions, normals, uvSets, indices, slots, triangleSlots } of meshes) {
    const uvs = uvSets[0]?.coords;
    const vertices = positions.length / 3;
    lines.push(`o ${name}`);
    for (let v = 0; v < vertices; v++) lines.push(`v ${triple(positions, v)}`);
    if (uvs) for (let v = 0; v < vertices; v++) lines.push(`vt ${short(uvs[v * 2]!)} ${short(uvs[v * 2 + 1]!)}`);
    for (let v = 0; v < vertices; v++) lines.push(`vn ${triple(normals, v)}`);
    let slot = -1;
    for (let t = 0; t < indices.length / 3; t++) {
      if (triangleSlots[t] !== slot) {
        slot = triangleSlots[t]!;
        lines.push(`usemtl ${slots[slot]}`);
      }
      const corners = [0, 1, 2].map((c) => {
        const v = indices[t * 3 + c]!;
        return `${v + vertexBase}/${uvs ? v + uvBase : ''}/${v + vertexBase}`;
      });
      lines.push(`f ${corners.join(' ')}`);
    }
    vertexBase += vertices;
    if (uvs) uvBase += vertices;
  }
  return new TextEncoder().encode(lines.join('\n') + '\n');
}

const triple = (array: Float32Array, v: number): string =>
  `${short(array[v * 3]!)} ${short(array[v * 3 + 1]!)} ${short(array[v * 3 + 2]!)}`;

/** Nine digits bring every float32 back exactly. */
const short = (value: number): string => String(Number(value.toPrecision(9)));
