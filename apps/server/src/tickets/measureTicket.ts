import type { DataSource } from 'typeorm';
import type { Lattice } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import type { Shell, Ticket } from '@zographos/contracts';
import { eachInput } from '@zographos/operations';
import type { MeasuredReach } from '@zographos/operations/bake';
import { askThread, startThread } from '@zographos/operations/threads';
import type { BlobStore } from '../blobs/blobStore.ts';
import { readAsset, readTicket } from '../data/readProject.ts';
import type { MeasureAnswer, MeasureRequest } from './measureThread.ts';

interface Stores {
  database: DataSource;
  blobs: BlobStore;
}

/** Measured before: a ticket's key stands for everything that decides the answer. */
const measured = new Map<string, MeasureAnswer>();
const KEPT = 50;

/** Measures on a thread how far the rays of a ticket must reach. @throws input/bad-settings without a source */
export async function measureReach(stores: Stores, ticketId: string): Promise<MeasuredReach> {
  const answer = await measure(stores, await readTicket(stores.database, ticketId), 'reach');
  return (answer as { reach: MeasuredReach }).reach;
}

/** Measures on a thread how far rays will reach from each vertex. @throws input/bad-settings without a source */
export async function measureShell(stores: Stores, ticketId: string): Promise<Shell> {
  const ticket = await readTicket(stores.database, ticketId);
  const { shell } = (await measure(stores, ticket, 'shell')) as Extract<MeasureAnswer, { shell: unknown }>;
  return { receivers: shell.map((each, i) => ({ id: ticket.inputs.receivers[i]!, ...each })) };
}

/** How the repeated sources of a ticket come to lie on the tile. @throws input/bad-settings, input/not-flat */
export async function measureRepeat(stores: Stores, ticketId: string): Promise<Lattice | null> {
  const answer = await measure(stores, await readTicket(stores.database, ticketId), 'repeat');
  return (answer as { repeat: Lattice | null }).repeat;
}

async function measure(
  { database, blobs }: Stores,
  { inputs, settings, key }: Ticket,
  what: MeasureRequest['what'],
): Promise<MeasureAnswer> {
  if (!key) {
    throw new ZographosError(
      'input/bad-settings',
      'This ticket has no source yet. Choose at least one mesh to bake from.',
    );
  }
  const name = `${what} ${key}`;
  const known = measured.get(name);
  if (known) return known;
  // Where rays go decides nothing about how far: the mask is left out.
  const { receivers, cage } = inputs;
  // How a pattern lies on the tile is decided by the receiver alone, and sources may be huge.
  const sources = what === 'repeat' ? [] : inputs.sources;
  const packed = await eachInput({ receivers, sources, cage }, async (id) => {
    const asset = await readAsset(database, id);
    return {
      hash: asset.contentHash,
      name: asset.name,
      file: asset.fileName,
      packed: await blobs.readBytes(asset.contentHash),
    };
  });
  const thread = startThread('./measureThread', import.meta.url);
  try {
    const request: MeasureRequest = { what, settings, inputs: packed };
    const answer = await askThread(thread, request, (message: MeasureAnswer) => message);
    if ('code' in answer) throw new ZographosError(answer.code, answer.message);
    measured.set(name, answer);
    for (const oldest of measured.keys()) {
      if (measured.size <= KEPT) break;
      measured.delete(oldest);
    }
    return answer;
  } finally {
    void thread.terminate();
  }
}
