import { ZographosError } from '@zographos/core/errors';
import { PLAIN_MATERIAL, type Material } from '@zographos/core/mesh';
import { checkObjects, checkTriangles } from '../../limits.ts';
import { TextCursor } from './bytes.ts';
import { CornerMesh, cornerTables, requireTriangles, type CornerTables } from './cornerMesh.ts';
import type { MeshFile, MeshSource } from '../meshFile.ts';
import { readMtl } from './mtl.ts';
import { PictureList } from '../pictureList.ts';

/**
 * Reads Wavefront OBJ with its material libraries. Objects come from `o` lines, or from `g` lines in a file
 * without any; vertex colours after the position are kept.
 * @throws input/bad-index, input/unreadable-file, input/no-triangles, limit/triangles
 */
export async function readObj({ name, bytes, companion, limits }: MeshSource): Promise<MeshFile> {
  const cursor = new TextCursor(bytes);
  const tables = cornerTables();
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

  const readOther = (): void => {
    switch (cursor.word()) {
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
  };

  while (!cursor.ended) {
    cursor.skipBlanks();
    switch (lineKind(bytes, cursor.at)) {
      case 'v':
        cursor.at += 1;
        readPosition(cursor, tables);
        break;
      case 'vt':
        cursor.at += 2;
        tables.uvs.push(cursor.number());
        tables.uvs.push(cursor.atLineEnd() ? 0 : cursor.number());
        break;
      case 'vn':
        cursor.at += 2;
        tables.normals.push3(cursor.number(), cursor.number(), cursor.number());
        break;
      case 'f': {
        cursor.at += 1;
        readFace(cursor, tables, face, name);
        current ??= open(fallback);
        triangles += current.addPolygon(face, current.slot(slotName));
        checkTriangles(name, triangles, limits);
        break;
      }
      case 'other':
        readOther();
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
  for (let at = bytes.indexOf(111); at >= 0; at = bytes.indexOf(111, at + 1)) {
    if ((at === 0 || bytes[at - 1] === 10) && bytes[at + 1]! <= 32) return true;
  }
  return false;
}

/** What a line says; words are only made of what is rare. */
function lineKind(bytes: Uint8Array, at: number): 'v' | 'vt' | 'vn' | 'f' | 'other' {
  const [first, second] = [bytes[at], bytes[at + 1]!];
  if (first === 102) return second <= 32 ? 'f' : 'other';
  if (first !== 118) return 'other';
  if (second <= 32) return 'v';
  if (!(bytes[at + 2]! <= 32)) return 'other';
  if (second === 116) return 'vt';
  return second === 110 ? 'vn' : 'other';
}

function readPosition(cursor: TextCursor, { positions, colors }: CornerTables): void {
  positions.push3(cursor.number(), cursor.number(), cursor.number());
  if (cursor.atLineEnd()) return;
  const first = cursor.number();
  if (cursor.atLineEnd()) return; // a weight, not a colour
  // Colours may begin anywhere in the file; vertices before are white.
  while (colors.length < positions.length - 3) colors.push(1);
  colors.push3(first, cursor.number(), cursor.number());
}

/** Reads position, uv, normal numbers for each corner, counted from 0, −1 for none. */
function readFace(cursor: TextCursor, { positions, uvs, normals }: CornerTables, face: number[], name: string): void {
  face.length = 0;
  const { bytes } = cursor;
  const counts = { position: positions.length / 3, uv: uvs.length / 2, normal: normals.length / 3 };
  for (;;) {
    // Most often a single blank and a digit follow.
    if (bytes[cursor.at] === 32) cursor.at++;
    if (!isDigit(bytes[cursor.at]!) && cursor.atLineEnd()) break;
    const start = cursor.at;
    const position = cursor.integer();
    let [uv, normal] = [NaN, NaN];
    if (bytes[cursor.at] === 47) {
      cursor.at++;
      uv = cursor.integer();
      if (bytes[cursor.at] === 47) {
        cursor.at++;
        normal = cursor.integer();
      }
    }
    if (Number.isNaN(position) || (!cursor.ended && bytes[cursor.at]! > 32)) {
      cursor.at = start;
      throw new ZographosError(
        'input/unreadable-file',
        `“${name}”, line ${cursor.line}: “${cursor.word()}” is not a face corner. The file is damaged; export it again.`,
      );
    }
    face.push(
      position > 0 && position <= counts.position
        ? position - 1
        : indexOf(position, counts.position, 'vertex', name, cursor),
      uv > 0 && uv <= counts.uv ? uv - 1 : indexOf(uv, counts.uv, 'texture vertex', name, cursor),
      normal > 0 && normal <= counts.normal ? normal - 1 : indexOf(normal, counts.normal, 'normal', name, cursor),
    );
  }
  if (face.length < 9) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}”, line ${cursor.line}: a face has only ${face.length / 3} corners. The file is cut off or damaged; export it again.`,
    );
  }
}

const isDigit = (byte: number): boolean => byte >= 48 && byte <= 57;

/** A number of a face, counted from 1 or back from the latest, as one from 0; −1 for none. */
function indexOf(number: number, count: number, what: string, name: string, { line }: TextCursor): number {
  if (Number.isNaN(number)) return -1;
  const index = number < 0 ? count + number : number - 1;
  if (index >= 0 && index < count) return index;
  throw new ZographosError(
    'input/bad-index',
    `“${name}”, line ${line}: a face uses ${what} ${number}, but only ${count} are defined there. The file is cut off or damaged; export it again.`,
  );
}
