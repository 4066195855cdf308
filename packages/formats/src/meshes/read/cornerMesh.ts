import { ZographosError } from '@zographos/core/errors';
import { smoothNormals, type Mesh } from '@zographos/core/mesh';
import { GrowingFloats, GrowingInts } from './growing.ts';
import type { MeshFileObject } from '../meshFile.ts';
import { triangulatePolygon } from './triangulate.ts';

/** Tables that corners refer to by number; −1 in a corner means that it has no such attribute. */
export interface CornerTables {
  positions: GrowingFloats;
  uvs: GrowingFloats;
  normals: GrowingFloats;
  /** r, g, b for each position, empty when the file has none. */
  colors: GrowingFloats;
  /** u, v for each position, for each UV set behind the first; in files that have them. */
  furtherUvs?: GrowingFloats[];
}

export const cornerTables = (): CornerTables => ({
  positions: new GrowingFloats(),
  uvs: new GrowingFloats(),
  normals: new GrowingFloats(),
  colors: new GrowingFloats(),
});

/**
 * Gathers triangles whose corners name position, UV and normal separately, and unites equal corners into
 * vertices.
 */
export class CornerMesh {
  readonly name: string;
  triangles = 0;
  droppedTriangles = 0;
  private readonly slots: string[] = [];
  private readonly slotNumbers = new Map<string, number>();
  private readonly triangleSlots = new GrowingInts();
  private readonly corners = new GrowingInts();
  private readonly tables: CornerTables;
  private hasUvs = false;
  /** Of the polygon at hand. */
  private readonly points: number[] = [];

  constructor(name: string, tables: CornerTables) {
    this.name = name;
    this.tables = tables;
  }

  slot(name: string): number {
    let number = this.slotNumbers.get(name);
    if (number === undefined) {
      number = this.slots.push(name) - 1;
      this.slotNumbers.set(name, number);
    }
    return number;
  }

  /**
   * Adds a polygon, as triangles.
   * @param corners position, uv, normal for each of its corners
   * @returns how many triangles it is
   */
  addPolygon(corners: readonly number[], slot: number): number {
    const { length } = corners;
    if (length === 9) {
      this.addTriangle(corners, 0, 3, 6, slot);
      return 1;
    }
    const positions = this.tables.positions.view();
    const { points } = this;
    points.length = 0;
    for (let c = 0; c < length; c += 3) {
      const at = corners[c]! * 3;
      points.push(positions[at]!, positions[at + 1]!, positions[at + 2]!);
    }
    const order = triangulatePolygon(points);
    for (let t = 0; t < order.length; t += 3) {
      this.addTriangle(corners, order[t]! * 3, order[t + 1]! * 3, order[t + 2]! * 3, slot);
    }
    return order.length / 3;
  }

  /** @param a, b, c where its corners begin among those of a polygon */
  private addTriangle(corners: readonly number[], a: number, b: number, c: number, slot: number): void {
    if (!this.isFinite(corners, a) || !this.isFinite(corners, b) || !this.isFinite(corners, c)) {
      this.droppedTriangles++;
      return;
    }
    this.corners.push3(corners[a]!, corners[a + 1]!, corners[a + 2]!);
    this.corners.push3(corners[b]!, corners[b + 1]!, corners[b + 2]!);
    this.corners.push3(corners[c]!, corners[c + 1]!, corners[c + 2]!);
    this.triangleSlots.push(slot);
    this.triangles++;
  }

  private isFinite(corners: readonly number[], at: number): boolean {
    const { positions, uvs } = this.tables;
    const position = corners[at]! * 3;
    // Doubles hold the sum of any three numbers of single precision.
    if (!Number.isFinite(positions.at(position) + positions.at(position + 1) + positions.at(position + 2)))
      return false;
    const uv = corners[at + 1]! * 2;
    if (uv < 0) return true;
    this.hasUvs = true;
    return Number.isFinite(uvs.at(uv) + uvs.at(uv + 1));
  }

  /** Unites the corners. Corners without a normal get a smooth, angle-weighted one. */
  finish(): MeshFileObject {
    const { tables, hasUvs } = this;
    const corners = this.corners.view();
    const indices = new Uint32Array(this.triangles * 3);
    const keys = uniteCorners(corners, tables.positions.length / 3, indices);
    const vertices = keys.length / 3;
    const positions = new Float32Array(vertices * 3);
    const coords = new Float32Array(hasUvs ? vertices * 2 : 0);
    const normals = new Float32Array(vertices * 3);
    const colors = tables.colors.length > 0 ? new Float32Array(vertices * 4).fill(1) : null;
    const given = {
      positions: tables.positions.view(),
      uvs: tables.uvs.view(),
      normals: tables.normals.view(),
      colors: tables.colors.view(),
    };
    let missingNormals = false;
    for (let v = 0, at = 0; v < vertices; v++, at += 3) {
      const p = keys[at]! * 3;
      const uv = keys[at + 1]! * 2;
      const n = keys[at + 2]! * 3;
      for (let k = 0; k < 3; k++) positions[at + k] = given.positions[p + k]!;
      if (n < 0) missingNormals = true;
      else for (let k = 0; k < 3; k++) normals[at + k] = given.normals[n + k]!;
      if (colors) for (let k = 0; k < 3 && p + k < given.colors.length; k++) colors[v * 4 + k] = given.colors[p + k]!;
      if (uv >= 0) {
        coords[v * 2] = given.uvs[uv]!;
        coords[v * 2 + 1] = given.uvs[uv + 1]!;
      }
    }
    const mesh: Mesh = {
      name: this.name,
      positions,
      normals,
      uvSets: hasUvs ? [{ name: 'UV 1', coords }, ...this.furtherSets(keys)] : [],
      colors,
      indices,
      slots: this.slots.length > 0 ? this.slots : ['default'],
      triangleSlots: new Uint16Array(this.triangleSlots.view()),
    };
    const computedNormals = completeNormals(mesh, missingNormals);
    return { mesh, computedNormals, droppedTriangles: this.droppedTriangles };
  }

  private furtherSets(keys: Int32Array): Mesh['uvSets'] {
    return (this.tables.furtherUvs ?? []).map((uvs, i) => {
      const coords = new Float32Array((keys.length / 3) * 2);
      for (let v = 0; v < keys.length / 3; v++) {
        for (let k = 0; k < 2; k++) coords[v * 2 + k] = uvs.at(keys[v * 3]! * 2 + k);
      }
      return { name: `UV ${i + 2}`, coords };
    });
  }
}

/**
 * Makes a vertex of corners that are the same.
 * @param corners position, uv, normal for each
 * @param indices told the vertex of each
 * @returns position, uv, normal for each vertex
 */
function uniteCorners(corners: Int32Array, positions: number, indices: Uint32Array): Int32Array {
  // Of each position its latest vertex, and of each vertex the one before it at its position.
  const heads = new Int32Array(positions).fill(-1);
  const next = new Int32Array(indices.length);
  const keys = new Int32Array(corners.length);
  let vertices = 0;
  for (let c = 0, at = 0; c < indices.length; c++, at += 3) {
    const p = corners[at]!;
    const uv = corners[at + 1]!;
    const n = corners[at + 2]!;
    let vertex = heads[p]!;
    while (vertex >= 0 && !(keys[vertex * 3 + 1] === uv && keys[vertex * 3 + 2] === n)) vertex = next[vertex]!;
    if (vertex < 0) {
      vertex = vertices++;
      next[vertex] = heads[p]!;
      heads[p] = vertex;
      keys[vertex * 3] = p;
      keys[vertex * 3 + 1] = uv;
      keys[vertex * 3 + 2] = n;
    }
    indices[c] = vertex;
  }
  return keys.subarray(0, vertices * 3);
}

/**
 * Normalises a mesh's normals and computes those that are missing or have no length.
 * @param anyMissing false skips looking when every vertex is known to have one
 * @returns whether any had to be computed
 */
export function completeNormals({ positions, normals, indices }: Mesh, anyMissing: boolean): boolean {
  let computed: Float32Array | null = anyMissing ? smoothNormals(positions, indices) : null;
  for (let v = 0; v < normals.length; v += 3) {
    const [x, y, z] = [normals[v]!, normals[v + 1]!, normals[v + 2]!];
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 1e-12 && Number.isFinite(length)) {
      // Leave unit normals as they are, to the last bit.
      if (Math.abs(length - 1) > 1e-6) for (let k = 0; k < 3; k++) normals[v + k]! /= length;
    } else {
      computed ??= smoothNormals(positions, indices);
      for (let k = 0; k < 3; k++) normals[v + k] = computed[v + k]!;
    }
  }
  return computed !== null;
}

/** @throws input/no-triangles when nothing usable is left */
export function requireTriangles(name: string, objects: MeshFileObject[]): MeshFileObject[] {
  const usable = objects.filter((object) => object.mesh.indices.length > 0);
  if (usable.length > 0) return usable;
  const dropped = objects.reduce((sum, object) => sum + object.droppedTriangles, 0);
  throw dropped > 0
    ? new ZographosError(
        'input/not-finite',
        `“${name}” has ${dropped} triangles, and every one has coordinates that are not numbers. Export it again from its source.`,
      )
    : new ZographosError(
        'input/no-triangles',
        `“${name}” holds no triangles. Export it with its faces; points and curves alone cannot be baked.`,
      );
}
