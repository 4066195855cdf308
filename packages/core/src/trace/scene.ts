import { sharedFloat32, sharedUint32 } from '../sharedArrays.ts';
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
