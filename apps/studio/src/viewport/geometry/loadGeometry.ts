import { PATHS } from '@zographos/contracts';
import type { Geometry, GeometryAnswer, GeometryRequest } from './geometryWorker.ts';

let worker: Worker | null = null;
let next = 1;

/**
 * Fetches meshes and prepares them as one, away from the main thread.
 * @param most triangles that they are split into, for displacement; as they are, if left out
 * @throws Error when it cannot be had
 */
export function loadGeometry(contentHashes: string[], uvSet: number, most?: number): Promise<Geometry> {
  worker ??= new Worker(new URL('./geometryWorker.ts', import.meta.url), { type: 'module' });
  const request: GeometryRequest = { id: next++, urls: contentHashes.map(PATHS.blob), uvSet, most };
  return new Promise((resolve, reject) => {
    const hear = ({ data }: MessageEvent<GeometryAnswer>): void => {
      if (data.id !== request.id) return;
      worker!.removeEventListener('message', hear);
      if ('geometry' in data) resolve(data.geometry);
      else reject(new Error(data.error));
    };
    worker!.addEventListener('message', hear);
    worker!.postMessage(request);
  });
}
