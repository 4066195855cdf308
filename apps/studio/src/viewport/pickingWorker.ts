import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';

export interface PickingRequest {
  number: number;
  positions: Float32Array;
  indices: Uint32Array | null;
}

export interface PickingAnswer {
  number: number;
  /** As `MeshBVH.serialize` gives it. */
  bvh: unknown;
}

self.onmessage = ({ data: { number, positions, indices } }: MessageEvent<PickingRequest>) => {
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(positions, 3));
  if (indices) geometry.setIndex(new BufferAttribute(indices, 1));
  // Triangles stay in their order, for the numbers of faces name them.
  const bvh = MeshBVH.serialize(new MeshBVH(geometry, { indirect: true }));
  self.postMessage({ number, bvh } satisfies PickingAnswer);
};
