import type { EntityManager } from 'typeorm';
import { likenessSheet } from '@zographos/core';
import { encodeImage, encodeThumbnail } from '@zographos/formats/images';
import { storeImage, storeStates } from '@zographos/formats/stored-map';
import type { BlobStore } from '../blobs/blobStore.ts';
import { imageSets, maps, runs, type BakeRunRow, type LayoutRunRow } from '../data/entities.ts';
import type { MadeMesh } from '../meshes/meshRevisions.ts';
import { packRecords } from './earlierBake.ts';
import { placeLayout } from './layouts.ts';
import type { MadeMap, OperationDone } from './operationThread.ts';
import { addMapRevision } from './queue.ts';
import { reducedCopy } from './reducedCopy.ts';

/** Results are stored first; what is given back shows them, within the transaction that ends the run. */
type Place = (manager: EntityManager) => Promise<void>;

const THUMBNAIL_SIDE = 512;

export async function storedBake(
  blobs: BlobStore,
  run: BakeRunRow,
  { maps: made, proof, records, report }: Extract<OperationDone, { operation: 'bake' }>,
  started: number,
): Promise<Place> {
  const encodingSince = performance.now();
  const stored: (Awaited<ReturnType<typeof storeMap>> & Pick<MadeMap, 'kind' | 'tile'>)[] = [];
  for (const map of made) stored.push({ kind: map.kind, tile: map.tile, ...(await storeMap(blobs, run.key, map)) });
  const likeness =
    proof.likeness.length > 0 ? Buffer.from(await encodeImage(likenessSheet(proof.likeness), 'png8')) : null;
  const packed = await packRecords(records);
  const now = performance.now();
  report.seconds.encode = (now - encodingSince) / 1000;
  report.seconds.total = (now - started) / 1000;
  report.peakMemoryBytes = process.resourceUsage().maxRSS * 1024;
  return async (manager) => {
    const details = { id: run.id, proof: { seams: proof.seams }, likeness, records: packed };
    await manager.getRepository(runs).save(details);
    // The layout this run was asked for, whatever the ticket says by now.
    const { id: imageSetId } = await manager
      .getRepository(imageSets)
      .findOneByOrFail({ receiverId: run.inputs.receivers[0]!.assetId, uvSet: run.settings.uvSet });
    for (const { kind, tile, ...revision } of stored) {
      const place = { imageSetId, kind, tile };
      const map =
        (await manager.getRepository(maps).findOneBy(place)) ??
        (await manager.getRepository(maps).save({ ...place, ticketId: run.ticketId }));
      await addMapRevision(manager, map.id, run.id, revision);
    }
  };
}

async function storeMap(blobs: BlobStore, key: string, { image, states, histograms }: MadeMap) {
  const data = blobs.writer();
  const directory = await storeImage(image, (bytes) => data.write(bytes));
  const { hash: dataHash } = await data.finish();
  const plane = blobs.writer();
  const statesDirectory = await storeStates(image, states, (bytes) => plane.write(bytes));
  const { hash: statesHash } = await plane.finish();
  const thumbnail = await encodeThumbnail(reducedCopy(image, THUMBNAIL_SIDE), THUMBNAIL_SIDE);
  const { hash: thumbnailHash } = await blobs.writeBytes(thumbnail);
  return { key, directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms };
}

export async function storedLayout(
  blobs: BlobStore,
  run: LayoutRunRow,
  { meshes }: Extract<OperationDone, { operation: 'layout' }>,
): Promise<Place> {
  const stored: MadeMesh[] = [];
  for (const { packed, inspection } of meshes) {
    stored.push({ contentHash: (await blobs.writeBytes(packed)).hash, inspection });
  }
  return (manager) => placeLayout(manager, run, stored);
}
