import type { Mesh } from '@zographos/core/mesh';
import { TextWriter } from './textWriter.ts';

const [SLASH, SPACE, NEW_LINE] = [47, 32, 10];

/**
 * Writes objects as Wavefront OBJ with normals, the first UV set and material slots.
 * @param library the material library that lies beside the file
 */
export function writeObj(meshes: readonly Mesh[], library?: string): Uint8Array<ArrayBuffer> {
  const text = new TextWriter();
  if (library) text.text(`mtllib ${library}\n`);
  let vertexBase = 1;
  let uvBase = 1;
  for (const { name, positions, normals, uvSets, indices, slots, triangleSlots } of meshes) {
    const uvs = uvSets[0]?.coords;
    text.text(`o ${name}\n`);
    writeRows(text, 'v', positions, 3);
    if (uvs) writeRows(text, 'vt', uvs, 2);
    writeRows(text, 'vn', normals, 3);
    let slot = -1;
    for (let t = 0; t < triangleSlots.length; t++) {
      if (triangleSlots[t] !== slot) {
        slot = triangleSlots[t]!;
        text.text(`usemtl ${slots[slot]}\n`);
      }
      text.char(102);
      for (let c = 0; c < 3; c++) {
        const v = indices[t * 3 + c]!;
        text.char(SPACE);
        text.whole(v + vertexBase);
        text.char(SLASH);
        if (uvs) text.whole(v + uvBase);
        text.char(SLASH);
        text.whole(v + vertexBase);
      }
      text.char(NEW_LINE);
    }
    vertexBase += positions.length / 3;
    if (uvs) uvBase += positions.length / 3;
  }
  return text.finish();
}

/** Lines of so many numbers each, behind a keyword. */
function writeRows(text: TextWriter, keyword: string, values: Float32Array, width: number): void {
  const codes = new TextEncoder().encode(keyword);
  for (let at = 0; at < values.length; at += width) {
    for (const code of codes) text.char(code);
    for (let k = 0; k < width; k++) {
      text.char(SPACE);
      text.float(values[at + k]!);
    }
    text.char(NEW_LINE);
  }
}
