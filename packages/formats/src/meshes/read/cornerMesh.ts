import { ZographosError } from '@zographos/core/errors';
import { smoothNormals, type Mesh } from '@zographos/core/mesh';
import { type GrowingFloats, GrowingInts } from './growing.ts';
import type { MeshFileObject } from '../meshFile.ts';

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

  /** Adds a triangle given as position, uv, normal for each of its corners. */
  addTriangle(corners: readonly number[], slot: number): void {
    const { positions, uvs } = this.tables;
    for (let c = 0; c < 9; c += 3) {
      for (let k = 0; k < 3; k++) {
        if (!Number.isFinite(positions.at(corners[c]! * 3 + k))) {
          this.droppedTriangles++;
          return;
        }
      }
      const uv = corners[c + 1]!;
      if (uv >= 0) {
        this.hasUvs = true;
        if (!Number.isFinite(uvs.at(uv * 2)) || !Number.isFinite(uvs.at(uv * 2 + 1))) {
          this.droppedTriangles++;
          return;
        }
      }
    }
    for (const number of corners) this.corners.push(number);
    this.triangleSlots.push(slot);
    this.triangles++;
  }

  /** Unites the corners. Corners without a normal get a smooth, angle-weighted one. */
  finish(): MeshFileObject {
    const { tables, corners, hasUvs } = this;
    const heads = new Int32Array(tables.positions.length / 3).fill(-1);
    const next = new GrowingInts();
    const keys = new GrowingInts();
    const indices = new Uint32Array(this.triangles * 3);
    let missingNormals = 0;
    for (let c = 0; c < indices.length; c++) {
      const p = corners.at(c * 3);
      const uv = corners.at(c * 3 + 1);
      const n = corners.at(c * 3 + 2);
      let vertex = heads[p]!;
      while (vertex >= 0 && !(keys.at(vertex * 3 + 1) === uv && keys.at(vertex * 3 + 2) === n))
        vertex = next.at(vertex);
      if (vertex < 0) {
        vertex = next.length;
        next.push(heads[p]!);
        heads[p] = vertex;
        keys.push(p);
        keys.push(uv);
        keys.push(n);
        if (n < 0) missingNormals++;
      }
      indices[c] = vertex;
    }
    const vertices = next.length;
    const positions = new Float32Array(vertices * 3);
    const coords = new Float32Array(hasUvs ? vertices * 2 : 0);
    const normals = new Float32Array(vertices * 3);
    const colors = tables.colors.length > 0 ? new Float32Array(vertices * 4).fill(1) : null;
    for (let v = 0; v < vertices; v++) {
      const p = keys.at(v * 3);
      const uv = keys.at(v * 3 + 1);
      const n = keys.at(v * 3 + 2);
      for (let k = 0; k < 3; k++) {
        positions[v * 3 + k] = tables.positions.at(p * 3 + k);
        if (n >= 0) normals[v * 3 + k] = tables.normals.at(n * 3 + k);
        if (colors && p * 3 + k < tables.colors.length) colors[v * 4 + k] = tables.colors.at(p * 3 + k);
      }
      if (uv >= 0) for (let k = 0; k < 2; k++) coords[v * 2 + k] = tables.uvs.at(uv * 2 + k);
    }
    const mesh: Mesh = {
      name: this.name,
      positions,
      normals,
      uvSets: hasUvs ? [{ name: 'UV 1', coords }, ...this.furtherSets(keys, vertices)] : [],
      colors,
      indices,
      slots: this.slots.length > 0 ? this.slots : ['default'],
      triangleSlots: Uint16Array.from({ length: this.triangles }, (_, t) => this.triangleSlots.at(t)),
    };
    const computedNormals = completeNormals(mesh, missingNormals > 0);
    return { mesh, computedNormals, droppedTriangles: this.droppedTriangles };
  }

  private furtherSets(keys: GrowingInts, vertices: number): Mesh['uvSets'] {
    return (this.tables.furtherUvs ?? []).map((uvs, i) => {
      const coords = new Float32Array(vertices * 2);
      for (let v = 0; v < vertices; v++) {
        for (let k = 0; k < 2; k++) coords[v * 2 + k] = uvs.at(keys.at(v * 3) * 2 + k);
      }
      return { name: `UV ${i + 2}`, coords };
    });
  }
}

/**
 * Normalises a mesh's normals and computes those that are missing or have no length.
 * @param anyMissing false skips looking when every vertex is known to have one
 * @returns whether any had to be computed
 */
export function completeNormals({ positions, normals, indices }: Mesh, anyMissing: boolean): boolean {
  let computed: Float32Array | null = anyMissing ? smoothNormals(positions, indices) : null;
  for (let v = 0; v < normals.length; v += 3) {
    const length = Math.hypot(normals[v]!, normals[v + 1]!, normals[v + 2]!);
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
