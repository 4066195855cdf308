import type { Mesh } from '@zographos/core';

/** An input mesh with the hash of its content, which names it in caches. */
export interface RunMesh {
  hash: string;
  mesh: Mesh;
}
