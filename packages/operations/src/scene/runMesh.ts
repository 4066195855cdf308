import { createHash } from 'node:crypto';
import type { Mesh } from '@zographos/core/mesh';
import { packMesh } from '@zographos/formats/packed-mesh';

/** An input mesh with the hash of its content, which names it in caches. */
export interface RunMesh {
  hash: string;
  mesh: Mesh;
}

export const hashedMesh = (mesh: Mesh): RunMesh => ({
  mesh,
  hash: createHash('sha256').update(packMesh(mesh)).digest('hex'),
});
