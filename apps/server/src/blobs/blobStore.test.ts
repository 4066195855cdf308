import { createHash } from 'node:crypto';
import os from 'node:os';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS } from '@zographos/contracts';
import { PLANE_OBJ, reliefObj } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';
import { BlobStore } from './blobStore.ts';
import { diskRoom, isScarce, readStorage } from './storage.ts';

let server: TestServer;
let database: DataSource;
let store: BlobStore;
beforeAll(async () => {
  server = await TestServer.start();
  database = server.database;
  store = new BlobStore(database);
});
afterAll(() => server.stop());

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

describe('deleting a project', () => {
  const bytesOf = async (projectId: string | null): Promise<number> => {
    const { uses } = await readStorage(database, null);
    return uses.filter((use) => use.projectId === projectId).reduce((sum, { bytes }) => sum + bytes, 0);
  };

  it('gives its bytes back at once, but for those that others refer to, or are about to', async () => {
    const obj = reliefObj(80, 0.03);
    const made = [0, 1].map(() => server.call(ENDPOINTS.createProject, {}, { name: 'Slip' }));
    const [one, two] = (await Promise.all(made)).map(({ id }) => id) as [string, string];
    await server.send(one, { 'relief.obj': obj, 'plane.obj': PLANE_OBJ });
    await server.send(two, { 'relief.obj': obj });
    const [first, second] = [await bytesOf(one), await bytesOf(two)];
    expect(first).toBeGreaterThan(second);
    expect((await readStorage(database, null)).totalBytes).toBeGreaterThanOrEqual(first);

    await server.call(ENDPOINTS.deleteProject, { id: one });
    expect((await readStorage(database, null)).totalBytes).toBe(second);
    expect(await bytesOf(two)).toBe(second);
    // Somebody has sent the same file once more, and it is being read.
    await store.writeBytes(Buffer.from(obj));
    await server.call(ENDPOINTS.deleteProject, { id: two });
    const { totalBytes, unusedBytes } = await readStorage(database, null);
    expect([totalBytes, unusedBytes]).toEqual([obj.length, obj.length]);
    await store.sweep('0 seconds');
    expect(await chunks()).toBe(0);
  });

  it('and bringing in a file takes about its size in the database', async () => {
    const size = async (): Promise<number> => {
      const [row] = await database.query<[{ size: string }]>('SELECT pg_database_size(current_database()) AS size');
      return Number(row.size);
    };
    const before = await size();
    const content = noise(5_000_000);
    await store.writeBytes(content);
    expect((await size()) - before).toBeLessThan(1.1 * content.length);
    await store.sweep('0 seconds');
    expect((await size()) - before).toBeLessThan(0.1 * content.length);
  });
});

describe('a disk', () => {
  it('is scarce below 4 GB, or a twentieth of it; a small one below its half', () => {
    expect([isScarce(3.9e9, 1e11), isScarce(5.1e9, 1e11), isScarce(4.1e10, 1e12), isScarce(5.1e10, 1e12)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
    expect([isScarce(2.6e9, 5e9), isScarce(2.4e9, 5e9)]).toEqual([false, true]);
  });

  it('is asked how much room it has, where it is on this machine', async () => {
    expect(await diskRoom(null)).toBeNull();
    expect((await diskRoom(os.tmpdir()))!.freeBytes).toBeGreaterThan(0);
  });
});
