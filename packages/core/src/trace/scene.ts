import { sharedFloat32, sharedUint32 } from '../shared.ts';
import type { Mesh } from '../mesh/mesh.ts';

/** The triangles rays can hit: one or more source meshes laid end to end in memory that threads share. */
export interface Scene {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
}

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

/** Whether a triangle's outer side points the way of a direction: a ray going there leaves through it. */
export function facesAlong(
  { positions, indices }: Scene,
  triangle: number,
  dx: number,
  dy: number,
  dz: number,
): boolean {
  const a = indices[triangle * 3]! * 3;
  const b = indices[triangle * 3 + 1]! * 3;
  const c = indices[triangle * 3 + 2]! * 3;
  const ux = positions[b]! - positions[a]!;
  const uy = positions[b + 1]! - positions[a + 1]!;
  const uz = positions[b + 2]! - positions[a + 2]!;
  const vx = positions[c]! - positions[a]!;
  const vy = positions[c + 1]! - positions[a + 1]!;
  const vz = positions[c + 2]! - positions[a + 2]!;
  return (uy * vz - uz * vy) * dx + (uz * vx - ux * vz) * dy + (ux * vy - uy * vx) * dz > 0;
}
