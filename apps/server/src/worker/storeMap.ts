import { isLight } from '@zographos/core/image';
import { exposureOf, forScreen } from '@zographos/core/light';
import { encodeThumbnail } from '@zographos/formats/images';
import { storeImage, storeStates } from '@zographos/formats/stored-map';
import type { MadeMap } from '@zographos/operations/run-context';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { MapRevisionRow } from '../data/entities.ts';
import { reducedCopy } from './reducedCopy.ts';

const THUMBNAIL_SIDE = 512;

/** What a revision of a map holds. */
export type StoredMap = Pick<
  MapRevisionRow,
  'directory' | 'dataHash' | 'statesDirectory' | 'statesHash' | 'thumbnailHash' | 'histograms'
>;

/** Stores the bytes of a map, with what became of its texels and a small picture. */
export async function storeMap(blobs: BlobStore, { kind, image, states, histograms }: MadeMap): Promise<StoredMap> {
  const data = blobs.writer();
  const directory = await storeImage(image, (bytes) => data.write(bytes));
  const { hash: dataHash } = await data.finish();
  const plane = blobs.writer();
  const statesDirectory = await storeStates(image, states, (bytes) => plane.write(bytes));
  const { hash: statesHash } = await plane.finish();
  const small = reducedCopy(image, THUMBNAIL_SIDE);
  const means = histograms.map(({ mean }) => mean);
  // Light has no upper end: its picture is as bright as suits a screen.
  const shown = isLight(kind) ? forScreen(small, 'filmic', exposureOf(means)) : small;
  const thumbnail = await encodeThumbnail(shown, THUMBNAIL_SIDE);
  const { hash: thumbnailHash } = await blobs.writeBytes(thumbnail);
  return { directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms };
}
