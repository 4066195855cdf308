import type { Mesh } from '@zographos/core/mesh';
import { DEFAULT_LIMITS, readMeshFile } from '@zographos/formats/meshes';
import { demoFiles } from '../index.ts';

/** The files of the demo by name. */
export async function demoBytes(): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  for await (const { name, bytes } of demoFiles()) files.set(name, bytes);
  return files;
}

/** The meshes of the demo as the intake reads them, by the names that its tickets have for them. */
export async function demoMeshes(files: ReadonlyMap<string, Uint8Array>): Promise<Map<string, Mesh>> {
  const companion = (name: string): Promise<Uint8Array | null> => Promise.resolve(files.get(name) ?? null);
  const meshes = new Map<string, Mesh>();
  for (const [name, bytes] of files) {
    if (!/\.(obj|ply|glb)$/.test(name)) continue;
    const { objects, missingPictures } = await readMeshFile({ name, bytes, companion, limits: DEFAULT_LIMITS });
    if (missingPictures.length > 0) throw new Error(`${name} lacks ${missingPictures.join()}.`);
    for (const { mesh, droppedTriangles } of objects) {
      if (droppedTriangles > 0) throw new Error(`${mesh.name} has triangles that are no numbers.`);
      // A file without objects is known by its own name.
      const known = name.endsWith('.ply') ? name.replace('.ply', '') : mesh.name;
      meshes.set(known, { ...mesh, name: known });
    }
  }
  return meshes;
}
