import { createHash, randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { blobChunks, blobs, projects } from '../data/entities.ts';
import { BLOB_USES } from './blobUses.ts';

const CHUNK = 1024 * 1024;

/** Bytes that nothing refers to are swept once they are this old, so that one being written is safe. */
const SWEEP_AGE = '1 hour';

export interface StoredBlob {
  hash: string;
  size: number;
}

/**
 * Content-addressed bytes in the database: cut into chunks of 1 MiB in rows, streamed in and out, kept once
 * however many refer to them.
 */
export class BlobStore {
  private readonly database: DataSource;

  constructor(database: DataSource) {
    this.database = database;
  }

  /** Begins a blob whose bytes come bit by bit. */
  writer(): BlobWriter {
    return new BlobWriter(this.database);
  }

  /**
   * Stores a stream.
   * @throws limit/bytes once more than `limit` bytes have come; nothing is kept then
   */
  async write(
    stream: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
    limit = Infinity,
    name = 'This file',
  ): Promise<StoredBlob> {
    const writer = this.writer();
    try {
      for await (const bytes of stream) {
        await writer.write(bytes);
        if (writer.size > limit) {
          throw new ZographosError(
            'limit/bytes',
            `${name} has more than ${limit} bytes, the limit set by ZOGRAPHOS_MAX_BYTES. Import a smaller file, or raise the limit.`,
          );
        }
      }
      return await writer.finish();
    } catch (error) {
      await writer.discard();
      throw error;
    }
  }

  writeBytes(bytes: Uint8Array): Promise<StoredBlob> {
    return this.write([bytes]);
  }

  /** @throws missing/not-found */
  async size(hash: string): Promise<number> {
    const row = await this.database.getRepository(blobs).findOneBy({ hash });
    if (row) return Number(row.size);
    throw new ZographosError('missing/not-found', 'This file is no longer stored. Reload the page.');
  }

  /** Streams a blob, or `length` bytes of it from `offset`, a chunk at a time. */
  async *read(hash: string, offset = 0, length = Infinity): AsyncGenerator<Buffer> {
    const end = Math.min(await this.size(hash), offset + length);
    const chunks = this.database.getRepository(blobChunks);
    for (let index = Math.floor(offset / CHUNK); index * CHUNK < end; index++) {
      const chunk = await chunks.findOneBy({ owner: hash, index });
      if (!chunk) throw new ZographosError('missing/not-found', 'Part of these bytes is missing from the database.');
      const start = index * CHUNK;
      yield chunk.bytes.subarray(Math.max(0, offset - start), Math.min(chunk.bytes.length, end - start));
    }
  }

  /** A whole blob, or part of it, in memory. */
  async readBytes(hash: string, offset = 0, length = Infinity): Promise<Buffer> {
    const parts: Buffer[] = [];
    for await (const part of this.read(hash, offset, length)) parts.push(part);
    return parts.length === 1 ? parts[0]! : Buffer.concat(parts);
  }

  /** Removes bytes that no row refers to. Returns how many blobs went. */
  async sweep(age = SWEEP_AGE): Promise<number> {
    const swept = await this.database.transaction(async (manager) => {
      const gone = await manager.query<[{ hash: string }[], number]>(
        `DELETE FROM blob WHERE "createdAt" < now() - $1::interval AND hash NOT IN (
           SELECT hash FROM ${BLOB_USES} AS use
         ) RETURNING hash`,
        [age],
      );
      // Chunks of a writer that died have an owner that never became a blob.
      await manager.query(
        `DELETE FROM blob_chunk c WHERE NOT EXISTS (SELECT 1 FROM blob b WHERE b.hash = c.owner)
           AND (c.owner NOT LIKE 'writing:%' OR to_timestamp(split_part(c.owner, ':', 2)::float8) < now() - $1::interval)`,
        [age],
      );
      return gone[1];
    });
    if (swept > 0) await this.reclaim();
    return swept;
  }

  /**
   * Deletes a project with the bytes that it alone refers to. Bytes that were written again after their last known use are
   * about to be referred to by somebody else, and are left to the next sweep.
   * @returns whether there was such a project
   */
  async deleteProject(projectId: string): Promise<boolean> {
    const [found, freed] = await this.database.transaction(async (manager) => {
      // As text, for a Date would lose the microseconds.
      const used = await manager.query<{ hash: string; last: string }[]>(
        `SELECT hash, max("createdAt")::text AS last FROM ${BLOB_USES} AS use
           WHERE "projectId" = $1 GROUP BY hash`,
        [projectId],
      );
      const { affected } = await manager.getRepository(projects).delete({ id: projectId });
      const [gone, count] = await manager.query<[{ hash: string }[], number]>(
        `DELETE FROM blob USING unnest($1::text[], $2::timestamptz[]) AS used(hash, last)
           WHERE blob.hash = used.hash AND blob."createdAt" <= used.last
             AND blob.hash NOT IN (SELECT hash FROM ${BLOB_USES} AS use)
           RETURNING blob.hash`,
        [used.map(({ hash }) => hash), used.map(({ last }) => last)],
      );
      await manager.query(`DELETE FROM blob_chunk WHERE owner = ANY($1)`, [gone.map(({ hash }) => hash)]);
      return [Boolean(affected), count];
    });
    if (freed > 0) await this.reclaim();
    return found;
  }

  /** Makes the room of deleted bytes usable again, now rather than when PostgreSQL comes to it. */
  private async reclaim(): Promise<void> {
    await this.database.query(`VACUUM blob_chunk`);
  }
}

/** Writes one blob. Its chunks belong to a provisional owner until the hash is known. */
export class BlobWriter {
  size = 0;
  private readonly database: DataSource;
  private readonly owner = `writing:${Math.floor(Date.now() / 1000)}:${randomUUID()}`;
  private readonly hash = createHash('sha256');
  private readonly chunk = Buffer.alloc(CHUNK);
  private filled = 0;
  private index = 0;

  constructor(database: DataSource) {
    this.database = database;
  }

  async write(bytes: Uint8Array): Promise<void> {
    this.hash.update(bytes);
    this.size += bytes.length;
    for (let at = 0; at < bytes.length;) {
      const part = bytes.subarray(at, at + CHUNK - this.filled);
      this.chunk.set(part, this.filled);
      this.filled += part.length;
      at += part.length;
      if (this.filled === CHUNK) await this.flush();
    }
  }

  /** Gives the bytes their hash for a name, or drops them if the same bytes are stored already. */
  async finish(): Promise<StoredBlob> {
    if (this.filled > 0) await this.flush();
    const hash = this.hash.digest('hex');
    await this.database.transaction(async (manager) => {
      const added = await manager.query<unknown[]>(
        // Touching the time keeps a sweep from taking bytes that are about to be referred to.
        `INSERT INTO blob (hash, size) VALUES ($1, $2)
           ON CONFLICT (hash) DO UPDATE SET "createdAt" = now() RETURNING (xmax = 0) AS fresh`,
        [hash, this.size],
      );
      const fresh = (added[0] as { fresh: boolean }).fresh;
      await manager.query(
        fresh ? `UPDATE blob_chunk SET owner = $2 WHERE owner = $1` : `DELETE FROM blob_chunk WHERE owner = $1`,
        fresh ? [this.owner, hash] : [this.owner],
      );
    });
    return { hash, size: this.size };
  }

  async discard(): Promise<void> {
    await this.database
      .getRepository(blobChunks)
      .delete({ owner: this.owner })
      .catch(() => {});
  }

  private async flush(): Promise<void> {
    await this.database
      .getRepository(blobChunks)
      .insert({ owner: this.owner, index: this.index++, bytes: this.chunk.subarray(0, this.filled) });
    this.filled = 0;
  }
}
