import { PATHS } from '@zographos/contracts';
import type { Size } from '@zographos/core/math';
import type { CheckedLayout, LaidMeshes, LayoutQuestion, LayoutReply } from './layoutWorker.ts';

/** Meshes by their content, each with the UV set that is meant. */
export interface MeshesOnLayout {
  contentHashes: string[];
  uvSets: number[];
}

let worker: Worker | null = null;
let next = 1;

type Asked = { what: 'layout' } | { what: 'check'; size: Size; padding: number; tiles: number[] | 'all' };

function ask({ contentHashes, uvSets }: MeshesOnLayout, asked: Asked): Promise<LayoutReply> {
  worker ??= new Worker(new URL('./layoutWorker.ts', import.meta.url), { type: 'module' });
  const question: LayoutQuestion = { id: next++, urls: contentHashes.map(PATHS.blob), uvSets, ...asked };
  return new Promise((resolve, reject) => {
    const hear = ({ data }: MessageEvent<LayoutReply>): void => {
      if (data.id !== question.id) return;
      worker!.removeEventListener('message', hear);
      if ('error' in data) reject(new Error(data.error));
      else resolve(data);
    };
    worker!.addEventListener('message', hear);
    worker!.postMessage(question);
  });
}

/** Fetches a layout and prepares it, away from the main thread. @throws Error when it cannot be had */
export async function loadLayout(meshes: MeshesOnLayout): Promise<LaidMeshes> {
  return ((await ask(meshes, { what: 'layout' })) as { layout: LaidMeshes }).layout;
}

/** Measures a layout, away from the main thread. @throws Error when the meshes cannot be had */
export async function measureLayout(
  meshes: MeshesOnLayout,
  options: { size: Size; padding: number; tiles: number[] | 'all' },
): Promise<CheckedLayout> {
  return ((await ask(meshes, { what: 'check', ...options })) as { checked: CheckedLayout }).checked;
}
