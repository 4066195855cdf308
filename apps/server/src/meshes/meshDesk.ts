import { ZographosError } from '@zographos/core/errors';
import type { NamedFile } from '@zographos/formats/meshes';
import { askThread, startThread } from '@zographos/operations/threads';
import type { MeshAnswer, MeshRequest } from './meshThread.ts';
import type { ReadyMesh } from './readyMesh.ts';

/** Work on meshes, each piece on a thread of its own, which ends with its answer, and its memory with it. */

/** @throws ZographosError as the work says, run/failed when the thread dies */
export async function meshesFrom(
  request: Extract<MeshRequest, { what: 'change' | 'split' | 'join' }>,
): Promise<ReadyMesh[]> {
  return ((await ask(request)) as { meshes: ReadyMesh[] }).meshes;
}

/** @throws ZographosError as the work says, run/failed when the thread dies */
export async function fileFrom(request: Extract<MeshRequest, { what: 'file' | 'guide' }>): Promise<NamedFile> {
  return ((await ask(request)) as { file: NamedFile }).file;
}

async function ask(request: MeshRequest): Promise<Exclude<MeshAnswer, { code: unknown }>> {
  const thread = startThread('./meshThread', import.meta.url);
  try {
    const answer = await askThread(
      thread,
      request,
      (message: MeshAnswer) => message,
      (cause) =>
        new ZographosError(
          'run/failed',
          'This needed more memory than there is. Nothing was changed; split the mesh or reduce its triangles.',
          { cause },
        ),
    );
    if ('code' in answer) throw new ZographosError(answer.code, answer.message);
    return answer;
  } finally {
    void thread.terminate();
  }
}
