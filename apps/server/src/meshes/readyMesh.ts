import { inspectMesh, type MeshInspection } from '@zographos/core/inspection';
import type { Mesh } from '@zographos/core/mesh';
import { packMesh } from '@zographos/formats/packed-mesh';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { MadeMesh } from './meshRevisions.ts';

/** A mesh as it leaves the thread that made it. */
export interface ReadyMesh {
  name: string;
  packed: Uint8Array<ArrayBuffer>;
  inspection: MeshInspection;
}

export const readyMesh = (mesh: Mesh): ReadyMesh => ({
  name: mesh.name,
  packed: packMesh(mesh),
  inspection: inspectMesh(mesh),
});

/** Stores the content of a mesh. */
export async function storeMesh(
  blobs: BlobStore,
  { name, packed, inspection }: ReadyMesh,
): Promise<MadeMesh & { name: string }> {
  return { name, contentHash: (await blobs.writeBytes(packed)).hash, inspection };
}

/** Stores the contents of meshes, one after the other. */
export async function storeMeshes(
  blobs: BlobStore,
  meshes: readonly ReadyMesh[],
): Promise<(MadeMesh & { name: string })[]> {
  const stored: (MadeMesh & { name: string })[] = [];
  for (const mesh of meshes) stored.push(await storeMesh(blobs, mesh));
  return stored;
}
