import { statfs } from 'node:fs/promises';
import type { DataSource } from 'typeorm';
import type { Storage } from '@zographos/contracts';
import { BLOB_USES } from './blobUses.ts';

/** Less than this, or less than this share of the disk, is scarce: a bake of 8k maps writes about a gigabyte. */
const SCARCE_BYTES = 4e9;
const SCARCE_SHARE = 0.05;

/** Room on the disk that the database lies on. */
export interface DiskRoom {
  freeBytes: number;
  isScarce: boolean;
}

/** @param folder on that disk; null where the database is elsewhere, and nobody here knows */
export async function diskRoom(folder: string | null): Promise<DiskRoom | null> {
  if (folder === null) return null;
  const { bavail, blocks, bsize } = await statfs(folder);
  const freeBytes = bavail * bsize;
  return { freeBytes, isScarce: isScarce(freeBytes, blocks * bsize) };
}

/** @example isScarce(3e9, 100e9) // true: a bake of 8k maps would fill it */
export const isScarce = (freeBytes: number, allBytes: number): boolean =>
  freeBytes < Math.max(Math.min(SCARCE_BYTES, allBytes / 2), SCARCE_SHARE * allBytes);

/** How much is stored, by what and for which project. What several projects share counts for each of them. */
export async function readStorage(database: DataSource, folder: string | null): Promise<Storage> {
  const uses = await database.query<
    { projectId: string | null; what: Storage['uses'][number]['what']; bytes: string }[]
  >(
    `SELECT u."projectId", u.what, sum(b.size) AS bytes
       FROM (SELECT DISTINCT "projectId", what, hash FROM ${BLOB_USES} AS use) u JOIN blob b ON b.hash = u.hash
       GROUP BY 1, 2 ORDER BY 3 DESC`,
  );
  const [sums] = await database.query<[{ total: string; unused: string }]>(
    `SELECT COALESCE(sum(size), 0) AS total,
            COALESCE(sum(size) FILTER (WHERE NOT EXISTS (SELECT FROM ${BLOB_USES} AS use WHERE use.hash = blob.hash)), 0) AS unused
       FROM blob`,
  );
  return {
    totalBytes: Number(sums.total),
    unusedBytes: Number(sums.unused),
    uses: uses.map((use) => ({ ...use, bytes: Number(use.bytes) })),
    disk: await diskRoom(folder),
  };
}
