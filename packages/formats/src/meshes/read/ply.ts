import { ZographosError } from '@zographos/core/errors';
import { checkTriangles } from '../../limits.ts';
import { TextCursor, viewOf } from './bytes.ts';
import { CornerMesh, cornerTables, requireTriangles, type CornerTables } from './cornerMesh.ts';
import { GrowingFloats } from './growing.ts';
import type { MeshFile, MeshSource } from '../meshFile.ts';

interface Property {
  name: string;
  type: ScalarType;
  /** The type of the length in front of a list; null for a single value. */
  lengthType: ScalarType | null;
}

interface Element {
  name: string;
  count: number;
  properties: Property[];
}

type ScalarType = 'i1' | 'u1' | 'i2' | 'u2' | 'i4' | 'u4' | 'f4' | 'f8';

const TYPES: Record<string, ScalarType> = {
  char: 'i1',
  int8: 'i1',
  uchar: 'u1',
  uint8: 'u1',
  short: 'i2',
  int16: 'i2',
  ushort: 'u2',
  uint16: 'u2',
  int: 'i4',
  int32: 'i4',
  uint: 'u4',
  uint32: 'u4',
  float: 'f4',
  float32: 'f4',
  double: 'f8',
  float64: 'f8',
};

const BYTES: Record<ScalarType, number> = { i1: 1, u1: 1, i2: 2, u2: 2, i4: 4, u4: 4, f4: 4, f8: 8 };

/**
 * Reads a polygon file (PLY 1.0, ASCII or binary of either byte order) with normals, UVs at vertices
 * (s/t, u/v, texture_u/v; further sets as s1/t1 and so on) or at face corners (texcoord), and vertex colours.
 * @throws input/unreadable-file, input/bad-index, input/no-triangles, limit/triangles
 */
export function readPly({ name, bytes, limits }: MeshSource): MeshFile {
  const { encoding, elements, bodyAt } = readHeader(bytes, name);
  const scalars = encoding === 'ascii' ? asciiScalars(bytes, bodyAt) : binaryScalars(bytes, bodyAt, encoding);
  const tables = cornerTables();
  const mesh = new CornerMesh(name.replace(/\.[^.]*$/, ''), tables);
  const broken = (why: string): ZographosError =>
    new ZographosError('input/unreadable-file', `“${name}” ${why}. It is cut off or damaged; export it again.`);
  try {
    for (const element of elements) {
      requireRoom(element, encoding, bytes.length - bodyAt);
      if (element.name === 'vertex') readVertices(element, scalars, tables);
      else if (element.name === 'face') {
        if (element.count > limits.triangles) checkTriangles(name, element.count, limits);
        readFaces(element, scalars, tables, mesh, name);
        checkTriangles(name, mesh.triangles, limits);
      } else skipElement(element, scalars);
    }
  } catch (error) {
    if (error instanceof RangeError) throw broken('ends before all its vertices and faces are there');
    throw error;
  }
  return { objects: requireTriangles(name, [mesh.finish()]), missingPictures: [], unit: null };
}

function readHeader(bytes: Uint8Array, name: string): { encoding: string; elements: Element[]; bodyAt: number } {
  const cursor = new TextCursor(bytes);
  const elements: Element[] = [];
  let encoding = '';
  while (!cursor.ended) {
    const keyword = cursor.word();
    if (keyword === 'end_header') {
      cursor.nextLine();
      if (encoding) return { encoding, elements, bodyAt: cursor.at };
      break;
    }
    if (keyword === 'format') encoding = cursor.word();
    else if (keyword === 'element') {
      elements.push({ name: cursor.word(), count: cursor.number(), properties: [] });
    } else if (keyword === 'property') {
      const first = cursor.word();
      const lengthType = first === 'list' ? TYPES[cursor.word()] : null;
      const type = TYPES[first === 'list' ? cursor.word() : first];
      if (!type || lengthType === undefined) break;
      elements.at(-1)?.properties.push({ name: cursor.word(), type, lengthType });
    }
    cursor.nextLine();
  }
  throw new ZographosError(
    'input/unreadable-file',
    `“${name}” has no complete PLY header. It is cut off or damaged; export it again.`,
  );
}

/**
 * What an element says of its number must fit into the file, before anything is counted up to it.
 * @throws RangeError for more than could be there
 */
function requireRoom({ count, properties }: Element, encoding: string, bytes: number): void {
  const least = properties.reduce(
    (sum, { type, lengthType }) => sum + (encoding === 'ascii' ? 2 : BYTES[lengthType ?? type]),
    0,
  );
  // The last number of a text needs no blank behind it.
  const fits = Number.isInteger(count) && count >= 0 && count * least <= bytes + 1;
  if (!fits || (least === 0 && count > bytes)) throw new RangeError('end of file');
}

type Scalars = (type: ScalarType) => number;

/** Reads numbers one by one; a RangeError says that the file has ended. */
function binaryScalars(bytes: Uint8Array, bodyAt: number, encoding: string): Scalars {
  const view = viewOf(bytes);
  const little = encoding === 'binary_little_endian';
  let at = bodyAt;
  return (type) => {
    const from = at;
    at += BYTES[type];
    switch (type) {
      case 'i1':
        return view.getInt8(from);
      case 'u1':
        return view.getUint8(from);
      case 'i2':
        return view.getInt16(from, little);
      case 'u2':
        return view.getUint16(from, little);
      case 'i4':
        return view.getInt32(from, little);
      case 'u4':
        return view.getUint32(from, little);
      case 'f4':
        return view.getFloat32(from, little);
      case 'f8':
        return view.getFloat64(from, little);
    }
  };
}

function asciiScalars(bytes: Uint8Array, bodyAt: number): Scalars {
  const cursor = new TextCursor(bytes);
  cursor.at = bodyAt;
  return () => {
    cursor.skipSpace();
    if (cursor.ended) throw new RangeError('end of file');
    return cursor.number();
  };
}

const UV_NAMES = [
  ['s', 't'],
  ['u', 'v'],
  ['texture_u', 'texture_v'],
] as const;

function readVertices({ count, properties }: Element, scalars: Scalars, tables: CornerTables): void {
  const find = (...names: string[]): number => properties.findIndex((p) => names.includes(p.name));
  const position = ['x', 'y', 'z'].map((axis) => find(axis));
  const normal = ['nx', 'ny', 'nz'].map((axis) => find(axis));
  const color = ['red', 'green', 'blue'].map((channel) => find(channel, `diffuse_${channel}`));
  const uv = UV_NAMES.map((names) => names.map((n) => find(n))).find((pair) => pair.every((at) => at >= 0));
  const further = uv ? furtherPairs(find) : [];
  tables.furtherUvs = further.map(() => new GrowingFloats());
  const hasNormals = normal.every((at) => at >= 0);
  const hasColors = color.every((at) => at >= 0);
  const isPlain = properties.every(({ lengthType }) => !lengthType);
  const types = properties.map(({ type }) => type);
  const row = new Float64Array(properties.length);
  const valueOf = (at: number): number => (at >= 0 ? row[at]! : 0);
  const whole = color[0]! >= 0 && properties[color[0]!]!.type === 'u1' ? 255 : 1;
  for (let v = 0; v < count; v++) {
    if (isPlain) for (let p = 0; p < types.length; p++) row[p] = scalars(types[p]!);
    else readRow(properties, scalars, row);
    tables.positions.push3(valueOf(position[0]!), valueOf(position[1]!), valueOf(position[2]!));
    if (hasNormals) tables.normals.push3(row[normal[0]!]!, row[normal[1]!]!, row[normal[2]!]!);
    if (hasColors) tables.colors.push3(row[color[0]!]! / whole, row[color[1]!]! / whole, row[color[2]!]! / whole);
    if (uv) {
      tables.uvs.push(row[uv[0]!]!);
      tables.uvs.push(row[uv[1]!]!);
    }
    for (let set = 0; set < further.length; set++) {
      for (const at of further[set]!) tables.furtherUvs[set]!.push(row[at]!);
    }
  }
}

/** One vertex, with lists that are of no use here among its properties. */
function readRow(properties: readonly Property[], scalars: Scalars, row: Float64Array): void {
  properties.forEach(({ type, lengthType }, p) => {
    if (lengthType) for (let n = scalars(lengthType); n > 0; n--) scalars(type);
    else row[p] = scalars(type);
  });
}

/** UV sets behind the first are called s1 and t1, s2 and t2, as we write them. */
function furtherPairs(find: (...names: string[]) => number): [number, number][] {
  const pairs: [number, number][] = [];
  for (let set = 1; find(`s${set}`) >= 0 && find(`t${set}`) >= 0; set++) pairs.push([find(`s${set}`), find(`t${set}`)]);
  return pairs;
}

function readFaces(
  { count, properties }: Element,
  scalars: Scalars,
  tables: CornerTables,
  mesh: CornerMesh,
  name: string,
): void {
  const vertices = tables.positions.length / 3;
  const uvAtVertices = tables.uvs.length > 0;
  const hasNormals = tables.normals.length > 0;
  const parts = properties.map(({ name: property, type, lengthType }) => ({
    ...{ type, lengthType },
    isVertices: property === 'vertex_indices' || property === 'vertex_index',
    isUvs: property === 'texcoord',
  }));
  /** Position, uv and normal of each corner. */
  const face: number[] = [];
  const slot = mesh.slot('default');
  for (let f = 0; f < count; f++) {
    face.length = 0;
    let firstUv = -1;
    for (const { type, lengthType, isVertices, isUvs } of parts) {
      const length = lengthType ? scalars(lengthType) : 1;
      if (isUvs && length > 0) firstUv = tables.uvs.length / 2;
      for (let i = 0; i < length; i++) {
        const value = scalars(type);
        if (isVertices) face.push(value, uvAtVertices ? value : -1, hasNormals ? value : -1);
        else if (isUvs) tables.uvs.push(value);
      }
    }
    for (let c = 0; c < face.length; c += 3) {
      const vertex = face[c]!;
      if (!(vertex >= 0 && vertex < vertices)) {
        throw new ZographosError(
          'input/bad-index',
          `“${name}”, face ${f + 1} uses vertex ${vertex}, but the file has only ${vertices}. It is damaged; export it again.`,
        );
      }
      if (firstUv >= 0) face[c + 1] = firstUv + c / 3;
    }
    if (face.length >= 9) mesh.addPolygon(face, slot);
  }
}

function skipElement({ count, properties }: Element, scalars: Scalars): void {
  for (let i = 0; i < count; i++) {
    for (const { type, lengthType } of properties) {
      for (let n = lengthType ? scalars(lengthType) : 1; n > 0; n--) scalars(type);
    }
  }
}
