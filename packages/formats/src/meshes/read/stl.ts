import { ZographosError } from '@zographos/core/errors';
import { checkObjects, checkTriangles } from '../../limits.ts';
import { headText, TextCursor, viewOf } from './bytes.ts';
import { CornerMesh, cornerTables, requireTriangles } from './cornerMesh.ts';
import { PointTable } from './pointTable.ts';
import type { MeshFile, MeshSource } from '../meshFile.ts';

/**
 * Reads stereolithography files, binary or ASCII (each `solid` an object). Facet normals are not kept: a
 * triangle soup is united by position and gets smooth normals.
 * @throws input/unreadable-file, input/no-triangles, limit/triangles
 */
export function readStl(source: MeshSource): MeshFile {
  const objects = isBinary(source.bytes) ? [readBinary(source)] : readAscii(source);
  return {
    objects: requireTriangles(
      source.name,
      objects.map((mesh) => mesh.finish()),
    ),
    missingPictures: [],
    unit: 'mm',
  };
}

/** Binary files may begin with “solid” too, so the triangle count decides where it fits the length. */
function isBinary(bytes: Uint8Array): boolean {
  if (bytes.length >= 84 && 84 + 50 * viewOf(bytes).getUint32(80, true) === bytes.length) return true;
  return !/^\s*solid\b/.test(headText(bytes, Math.min(80, bytes.length)));
}

/** A mesh whose corners are united by their places. */
class Solid {
  readonly mesh: CornerMesh;
  private readonly points: PointTable;
  private readonly slot: number;
  private readonly corners: number[] = [];

  constructor(name: string) {
    const tables = cornerTables();
    this.mesh = new CornerMesh(name, tables);
    this.slot = this.mesh.slot('default');
    this.points = new PointTable(tables.positions);
  }

  add(x: number, y: number, z: number): void {
    this.corners.push(this.points.numberOf(x, y, z), -1, -1);
    if (this.corners.length < 9) return;
    this.mesh.addPolygon(this.corners, this.slot);
    this.corners.length = 0;
  }
}

function readBinary({ name, bytes, limits }: MeshSource): CornerMesh {
  const view = viewOf(bytes);
  const count = bytes.length >= 84 ? view.getUint32(80, true) : 0;
  if (bytes.length < 84 || bytes.length < 84 + 50 * count) {
    const there = Math.max(0, Math.floor((bytes.length - 84) / 50));
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” announces ${count} triangles but holds ${there}. It is cut off or no STL file; export it again.`,
    );
  }
  checkTriangles(name, count, limits);
  const solid = new Solid(name.replace(/\.[^.]*$/, ''));
  for (let t = 0; t < count; t++) {
    for (let c = 0; c < 3; c++) {
      const at = 84 + t * 50 + 12 + c * 12;
      solid.add(view.getFloat32(at, true), view.getFloat32(at + 4, true), view.getFloat32(at + 8, true));
    }
  }
  return solid.mesh;
}

function readAscii({ name, bytes, limits }: MeshSource): CornerMesh[] {
  const cursor = new TextCursor(bytes);
  const fallback = name.replace(/\.[^.]*$/, '');
  const objects: CornerMesh[] = [];
  let current = new Solid(fallback);
  let corners = 0;
  let closed = true;
  while (!cursor.ended) {
    const keyword = cursor.word();
    if (keyword === 'solid') {
      current = new Solid(cursor.rest() || fallback);
      objects.push(current.mesh);
      checkObjects(name, objects.length, limits);
      closed = false;
    } else if (keyword === 'vertex') {
      current.add(cursor.number(), cursor.number(), cursor.number());
      corners++;
      if (corners % 3 === 0) checkTriangles(name, corners / 3, limits);
    } else if (keyword === 'endsolid') closed = true;
    cursor.nextLine();
  }
  if (!closed) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” ends in the middle of a solid. It is cut off; export it again.`,
    );
  }
  return objects;
}
