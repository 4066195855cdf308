import { ZographosError } from '@zographos/core/errors';
import { PLAIN_MATERIAL, type Material } from '@zographos/core/mesh';
import { checkObjects, checkTriangles } from '../../limits.ts';
import { TextCursor } from './bytes.ts';
import { CornerMesh, requireTriangles, type CornerTables } from './cornerMesh.ts';
import { GrowingFloats } from './growing.ts';
import type { MeshFile, MeshSource } from '../meshFile.ts';
import { readMtl } from './mtl.ts';
import { PictureList } from '../pictureList.ts';
import { triangulatePolygon } from './triangulate.ts';

/**
 * Reads Wavefront OBJ with its material libraries. Objects come from `o` lines, or from `g` lines in a file
 * without any; vertex colours after the position are kept.
 * @throws input/bad-index, input/unreadable-file, input/no-triangles, limit/triangles
 */
export async function readObj({ name, bytes, companion, limits }: MeshSource): Promise<MeshFile> {
  const cursor = new TextCursor(bytes);
  const tables: CornerTables = {
    positions: new GrowingFloats(),
    uvs: new GrowingFloats(),
    normals: new GrowingFloats(),
    colors: new GrowingFloats(),
  };
  const byObject: CornerMesh[] = [];
  const byName = new Map<string, CornerMesh>();
  const libraries: string[] = [];
  const splitsByObject = hasObjectLine(bytes);
  const fallback = name.replace(/\.[^.]*$/, '');
  let current: CornerMesh | null = null;
  let slotName = 'default';
  let triangles = 0;

  const open = (title: string): CornerMesh => {
    let mesh = byName.get(title);
    if (!mesh) {
      mesh = new CornerMesh(title, tables);
      byName.set(title, mesh);
      byObject.push(mesh);
      checkObjects(name, byObject.length, limits);
    }
    return mesh;
  };
  const face: number[] = [];
  const points: number[] = [];

  while (!cursor.ended) {
    const line = cursor.line;
    switch (cursor.word()) {
      case 'v':
        readPosition(cursor, tables);
        break;
      case 'vt':
        tables.uvs.push(cursor.number());
        tables.uvs.push(cursor.atLineEnd() ? 0 : cursor.number());
        break;
      case 'vn':
        for (let k = 0; k < 3; k++) tables.normals.push(cursor.number());
        break;
      case 'f': {
        readFace(cursor, tables, face, name, line);
        current ??= open(fallback);
        points.length = 0;
        for (let c = 0; c < face.length; c += 3) {
          for (let k = 0; k < 3; k++) points.push(tables.positions.at(face[c]! * 3 + k));
        }
        const slot = current.slot(slotName);
        const corners = triangulatePolygon(points);
        for (let t = 0; t < corners.length; t += 3) {
          const triangle: number[] = [];
          for (let c = 0; c < 3; c++) {
            const at = corners[t + c]! * 3;
            triangle.push(face[at]!, face[at + 1]!, face[at + 2]!);
          }
          current.addTriangle(triangle, slot);
        }
        triangles += corners.length / 3;
        checkTriangles(name, triangles, limits);
        break;
      }
      case 'o':
        current = open(cursor.rest() || fallback);
        break;
      case 'g':
        if (!splitsByObject) current = open(cursor.rest() || fallback);
        break;
      case 'usemtl':
        slotName = cursor.rest() || 'default';
        break;
      case 'mtllib':
        libraries.push(cursor.rest());
        break;
    }
    cursor.nextLine();
  }

  const objects = requireTriangles(
    name,
    byObject.map((mesh) => mesh.finish()),
  );
  const pictures = new PictureList(companion);
  const materials = new Map<string, Material>();
  for (const library of libraries) {
    const file = await companion(library);
    if (file) for (const [title, material] of await readMtl(file, pictures)) materials.set(title, material);
  }
  if (materials.size > 0) {
    for (const { mesh } of objects) {
      mesh.materials = mesh.slots.map((slot) => materials.get(slot) ?? PLAIN_MATERIAL);
      mesh.pictures = pictures.pictures;
    }
  }
  return { objects, missingPictures: pictures.missing, unit: null };
}

function hasObjectLine(bytes: Uint8Array): boolean {
  for (let at = 0; at >= 0 && at < bytes.length;) {
    if (bytes[at] === 111 && bytes[at + 1]! <= 32) return true;
    const end = bytes.indexOf(10, at);
    if (end < 0) return false;
    at = end + 1;
  }
  return false;
}

function readPosition(cursor: TextCursor, { positions, colors }: CornerTables): void {
  for (let k = 0; k < 3; k++) positions.push(cursor.number());
  if (cursor.atLineEnd()) return;
  const first = cursor.number();
  if (cursor.atLineEnd()) return; // a weight, not a colour
  // Colours may begin anywhere in the file; vertices before are white.
  while (colors.length < positions.length - 3) colors.push(1);
  colors.push(first);
  colors.push(cursor.number());
  colors.push(cursor.number());
}

/** Reads position, uv, normal numbers for each corner, counted from 0, −1 for none. */
function readFace(cursor: TextCursor, tables: CornerTables, face: number[], name: string, line: number): void {
  face.length = 0;
  const counts = [tables.positions.length / 3, tables.uvs.length / 2, tables.normals.length / 3];
  const what = ['vertex', 'texture vertex', 'normal'];
  while (!cursor.atLineEnd()) {
    const start = cursor.at;
    const corner = [NaN, NaN, NaN];
    corner[0] = cursor.integer();
    for (let k = 1; k < 3 && cursor.bytes[cursor.at] === 47; k++) {
      cursor.at++;
      corner[k] = cursor.integer();
    }
    if (Number.isNaN(corner[0]) || (!cursor.ended && cursor.bytes[cursor.at]! > 32)) {
      cursor.at = start;
      throw new ZographosError(
        'input/unreadable-file',
        `“${name}”, line ${line}: “${cursor.word()}” is not a face corner. The file is damaged; export it again.`,
      );
    }
    for (let k = 0; k < 3; k++) {
      const number = corner[k]!;
      if (Number.isNaN(number)) {
        face.push(-1);
        continue;
      }
      const index = number < 0 ? counts[k]! + number : number - 1;
      if (index < 0 || index >= counts[k]!) {
        throw new ZographosError(
          'input/bad-index',
          `“${name}”, line ${line}: a face uses ${what[k]} ${number}, but only ${counts[k]} are defined there. The file is cut off or damaged; export it again.`,
        );
      }
      face.push(index);
    }
  }
  if (face.length < 9) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}”, line ${line}: a face has only ${face.length / 3} corners. The file is cut off or damaged; export it again.`,
    );
  }
}
