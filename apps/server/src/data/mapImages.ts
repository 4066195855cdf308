import type { DataSource } from 'typeorm';
import type { Image } from '@zographos/core/image';
import { loadImage } from '@zographos/formats/stored-map';
import type { TileDirectory } from '@zographos/formats/tiles';
import type { BlobStore } from '../blobs/blobStore.ts';
import { mapRevisions } from './entities.ts';
import { notFound } from './readProject.ts';

/** What a stored map holds: colours as light. @param level 0 for its full size, each further one half of it */
export const loadMapImage = (
  blobs: BlobStore,
  { directory, dataHash }: { directory: TileDirectory; dataHash: string },
  level = 0,
): Promise<Image> => loadImage(directory, (offset, length) => blobs.readBytes(dataHash, offset, length), level);

/** What became of each texel of a stored map. */
export async function loadMapStates(
  blobs: BlobStore,
  { statesDirectory, statesHash }: { statesDirectory: TileDirectory; statesHash: string },
): Promise<Uint8Array> {
  const plane = await loadMapImage(blobs, { directory: statesDirectory, dataHash: statesHash });
  return Uint8Array.from(plane.data);
}

/** @throws missing/not-found */
export async function readMapImage(database: DataSource, blobs: BlobStore, revisionId: string): Promise<Image> {
  const revision = await database.getRepository(mapRevisions).findOneBy({ id: revisionId });
  return loadMapImage(blobs, revision ?? notFound('map'));
}

/** The first level no side of which is longer than asked for, or the last. */
export function levelFor({ levels }: TileDirectory, side: number): number {
  const level = levels.findIndex(({ width, height }) => Math.max(width, height) <= side);
  return level < 0 ? levels.length - 1 : level;
}
