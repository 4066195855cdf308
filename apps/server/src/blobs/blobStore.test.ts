import { createHash } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openDatabase } from '../data/database.ts';
import { emptyDatabase } from '../testing/testServer.ts';
import { BlobStore } from './blobStore.ts';

let database: DataSource;
let store: BlobStore;
beforeAll(async () => {
  database = await openDatabase(await emptyDatabase());
  store = new BlobStore(database);
});
afterAll(() => database.destroy());

const noise = (length: number): Buffer =>
  Buffer.from(Uint32Array.from({ length }, (_, i) => Math.imul(i, 2654435761)).buffer);
const chunks = async (): Promise<number> =>
  Number((await database.query<[{ count: string }]>('SELECT count(*) FROM blob_chunk'))[0].count);

describe('the blob store', () => {
  it('names bytes by their SHA-256, keeps them in chunks and once only, and gives back any part', async () => {
    const bytes = noise(700_000); // 2.8 MB: three chunks
    const stored = await store.write([bytes.subarray(0, 1_500_001), bytes.subarray(1_500_001)]);
    expect(stored).toEqual({ hash: createHash('sha256').update(bytes).digest('hex'), size: bytes.length });
    expect(await chunks()).toBe(3);
    expect(await store.writeBytes(bytes)).toEqual(stored);
    expect(await chunks()).toBe(3);
    expect((await store.readBytes(stored.hash)).equals(bytes)).toBe(true);
    const part = await store.readBytes(stored.hash, 1_048_570, 1_048_590);
    expect(part.equals(bytes.subarray(1_048_570, 1_048_570 + 1_048_590))).toBe(true);
    await expect(store.readBytes('0'.repeat(64))).rejects.toMatchObject({ code: 'missing/not-found' });
  });

  it('sweeps what nothing refers to once it is old enough, and what a dead writer left', async () => {
    await store.writeBytes(noise(1000));
    await store.writer().write(noise(300_000)); // never finished
    expect(await store.sweep()).toBe(0);
    expect(await store.sweep('0 seconds')).toBeGreaterThan(0);
    await new Promise((resolve) => setTimeout(resolve, 1100));
    await store.sweep('0 seconds');
    expect(await chunks()).toBe(0);
  });
});
