import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { strokeOfRecord, strokeRecord, type StrokeRecord } from '@zographos/operations';
import type { BlobStore } from '../blobs/blobStore.ts';
import { strokes } from '../data/entities.ts';
import { readProjectSummary } from '../data/readProject.ts';

/**
 * Keeps a stroke, which layers then name by its hash; the same stroke is kept once. It stays as long as its project, for an
 * undo may bring it back.
 * @throws input/bad-settings for points that are none, missing/not-found
 */
export async function keepStroke(
  database: DataSource,
  blobs: BlobStore,
  projectId: string,
  record: StrokeRecord,
): Promise<{ hash: string }> {
  await readProjectSummary(database, projectId);
  strokeOfRecord(record);
  const { hash } = await blobs.writeBytes(Buffer.from(JSON.stringify(record)));
  await database.getRepository(strokes).upsert({ projectId, hash }, ['projectId', 'hash']);
  return { hash };
}

/** The strokes of these names, as they are kept. @throws missing/not-found */
export const readStrokes = (blobs: BlobStore, hashes: readonly string[]): Promise<[string, StrokeRecord][]> =>
  Promise.all(
    hashes.map(async (hash): Promise<[string, StrokeRecord]> => {
      const bytes = await blobs.readBytes(hash).catch((cause: unknown) => {
        throw new ZographosError(
          'missing/not-found',
          'A stroke that was painted is not there any more. Undo the last changes, or remove the painted layer.',
          { cause },
        );
      });
      return [hash, strokeRecord.parse(JSON.parse(bytes.toString('utf8')))];
    }),
  );
