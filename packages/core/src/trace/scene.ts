import { sharedFloat32, sharedUint32 } from '../shared.ts';
import type { Mesh } from '../mesh/mesh.ts';

/** The triangles rays can hit: one or more source meshes laid end to end in memory that threads share. */
export interface Scene {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
}

/** Some of a scene's triangles, from the first to the one behind the last. */
export interface TriangleRange {
  from: number;
  to: number;
}

export const wholeScene = ({ indices }: Scene): TriangleRange => ({ from: 0, to: indices.length / 3 });

/** Joins source meshes into one scene. Triangle numbers run on from mesh to mesh in the order given. */
export function sceneOf(sources: readonly Mesh[]): Scene {
  const vertices = sources.reduce((sum, mesh) => sum + mesh.positions.length, 0);
  const corners = sources.reduce((sum, mesh) => sum + mesh.indices.length, 0);
  const scene: Scene = {
    positions: sharedFloat32(vertices),
    normals: sharedFloat32(vertices),
    indices: sharedUint32(corners),
  };
  let vertexAt = 0;
  let cornerAt = 0;
  for (const mesh of sources) {
    scene.positions.set(mesh.positions, vertexAt);
    scene.normals.set(mesh.normals, vertexAt);
    const base = vertexAt / 3;
    for (let i = 0; i < mesh.indices.length; i++) scene.indices[cornerAt + i] = mesh.indices[i]! + base;
    vertexAt += mesh.positions.length;
    cornerAt += mesh.indices.length;
  }
  return scene;
}

/**
 * The face of a triangle: its edges from the first corner to the second and the third, and their cross product, which
 * points outwards and is twice as long as the triangle is large.
 * @param out receives three vectors
 */
export function triangleFace(
  { positions, indices }: Pick<Scene, 'positions' | 'indices'>,
  triangle: number,
  out: Float64Array,
): void {
  const a = indices[triangle * 3]! * 3;
  const b = indices[triangle * 3 + 1]! * 3;
  const c = indices[triangle * 3 + 2]! * 3;
  const ux = positions[b]! - positions[a]!;
  const uy = positions[b + 1]! - positions[a + 1]!;
  const uz = positions[b + 2]! - positions[a + 2]!;
  const vx = positions[c]! - positions[a]!;
  const vy = positions[c + 1]! - positions[a + 1]!;
  const vz = positions[c + 2]! - positions[a + 2]!;
  out[0] = ux;
  out[1] = uy;
  out[2] = uz;
  out[3] = vx;
  out[4] = vy;
  out[5] = vz;
  out[6] = uy * vz - uz * vy;
  out[7] = uz * vx - ux * vz;
  out[8] = ux * vy - uy * vx;
}

const face = new Float64Array(9);

/** Whether a triangle's outer side points the way of a direction: a ray going there leaves through it. */
export function facesAlong(scene: Scene, triangle: number, dx: number, dy: number, dz: number): boolean {
  triangleFace(scene, triangle, face);
  return face[6]! * dx + face[7]! * dy + face[8]! * dz > 0;
}
