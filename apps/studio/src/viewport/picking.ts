import { Ray, Raycaster, Vector2, type BufferGeometry, type Camera, type Vector3 } from 'three';
import { MeshBVH, type SerializedBVH } from 'three-mesh-bvh';
import type { PickingAnswer, PickingRequest } from './pickingWorker.ts';

/** Finds what lies under a point of the view, by a bounding volume hierarchy that is built away from the main thread. */
export class Picker {
  private bvh: MeshBVH | null = null;
  private worker: Worker | null = null;
  private asked = 0;
  private readonly raycaster = new Raycaster();

  /** Prepares for a geometry; until that is done nothing is hit. @param onReady told once it is */
  prepare(geometry: BufferGeometry, onReady: () => void = () => {}): void {
    this.bvh = null;
    const number = ++this.asked;
    this.worker ??= new Worker(new URL('./pickingWorker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<PickingAnswer>) => {
      if (data.number !== this.asked) return;
      this.bvh = MeshBVH.deserialize(data.bvh as SerializedBVH, geometry, { setIndex: false });
      onReady();
    };
    const positions = (geometry.getAttribute('position').array as Float32Array).slice();
    const index = geometry.getIndex();
    const indices = index ? (index.array as Uint32Array).slice() : null;
    const request: PickingRequest = { number, positions, indices };
    const moved = [positions.buffer, ...(indices ? [indices.buffer] : [])] as ArrayBuffer[];
    this.worker.postMessage(request, moved);
  }

  /** @param x, y 0 to 1 from the upper left of the view @returns the nearest hit; null beside the mesh */
  under(x: number, y: number, camera: Camera): { point: Vector3; face: number } | null {
    if (!this.bvh) return null;
    this.raycaster.setFromCamera(new Vector2(x * 2 - 1, 1 - y * 2), camera);
    const { origin, direction } = this.raycaster.ray;
    const hit = this.bvh.raycastFirst(new Ray(origin.clone(), direction.clone()), 2);
    return hit ? { point: hit.point, face: hit.faceIndex ?? 0 } : null;
  }

  close(): void {
    this.worker?.terminate();
    this.worker = null;
    this.bvh = null;
  }
}
