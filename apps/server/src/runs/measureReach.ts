import { ZographosError, type SuggestedReach } from '@zographos/core';
import { askThread, startThread } from '@zographos/operations/run';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { DataSource } from 'typeorm';
import { readAsset, readTicket } from '../data/readProject.ts';
import type { MeasureRequest } from './measureThread.ts';

/** Measured before: content never changes under its hash, so neither does the distance. */
const measured = new Map<string, SuggestedReach>();

/** Measures on a thread how far the rays of a ticket must reach. @throws input/bad-settings without a source */
export async function measureReach(
  { database, blobs }: { database: DataSource; blobs: BlobStore },
  ticketId: string,
): Promise<SuggestedReach> {
  const { inputs } = await readTicket(database, ticketId);
  if (inputs.sources.length === 0) {
    throw new ZographosError(
      'input/bad-settings',
      'This ticket has no source yet. Choose at least one mesh to bake from.',
    );
  }
  const hashes = await Promise.all(
    [inputs.receiver, ...inputs.sources].map(async (id) => (await readAsset(database, id)).contentHash),
  );
  const key = hashes.join();
  const known = measured.get(key);
  if (known) return known;
  const [receiver, ...sources] = await Promise.all(
    hashes.map(async (hash) => ({ hash, packed: await blobs.readBytes(hash) })),
  );
  const thread = startThread('./measureThread', import.meta.url);
  try {
    const reach = await askThread(
      thread,
      { receiver: receiver!, sources } satisfies MeasureRequest,
      (answer: SuggestedReach) => answer,
    );
    measured.set(key, reach);
    return reach;
  } finally {
    void thread.terminate();
  }
}
