import type { DataSource, EntityManager } from 'typeorm';
import { likenessSheet } from '@zographos/core/measure';
import { encodeImage, encodeThumbnail } from '@zographos/formats/images';
import { storeImage, storeStates } from '@zographos/formats/stored-map';
import type { BlobStore } from '../blobs/blobStore.ts';
import {
  imageSets,
  runs,
  tickets,
  type BakeRunRow,
  type FlatRunRow,
  type LayoutRunRow,
  type MergeRunRow,
} from '../data/entities.ts';
import { storeMeshes } from '../meshes/readyMesh.ts';
import { packRecords } from './earlierBake.ts';
import { placeLayout } from '../runs/layouts.ts';
import type { MadeMap, OperationDone } from './operationThread.ts';
import { placeMerge } from '../runs/merges.ts';
import { addMapRevision, enqueueRun, mapAt } from '../runs/queue.ts';
import { reducedCopy } from './reducedCopy.ts';

/**
 * Results are stored first; what is given back shows them, within the transaction that ends the run. What it gives back
 * in turn is done once that is over.
 */
export type Place = (manager: EntityManager) => Promise<(() => Promise<unknown>) | undefined>;

const THUMBNAIL_SIDE = 512;

export async function storedBake(
  blobs: BlobStore,
  run: BakeRunRow,
  { maps: made, proof, records, report }: Extract<OperationDone, { operation: 'bake' }>,
  started: number,
): Promise<Place> {
  const encodingSince = performance.now();
  const stored: (Awaited<ReturnType<typeof storeMap>> & Pick<MadeMap, 'kind' | 'tile'> & { key: string })[] = [];
  for (const map of made)
    stored.push({ kind: map.kind, tile: map.tile, key: run.key, ...(await storeMap(blobs, map)) });
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
      const mapId = await mapAt(manager, { imageSetId, kind, tile }, run.ticketId);
      await addMapRevision(manager, mapId, run.id, revision);
    }
    return undefined;
  };
}

/** Flat maps go to the set of their ticket. */
export async function storedFlat(
  blobs: BlobStore,
  run: FlatRunRow,
  { maps: made }: Extract<OperationDone, { operation: FlatRunRow['operation'] }>,
): Promise<Place> {
  const stored: (Awaited<ReturnType<typeof storeMap>> & Pick<MadeMap, 'kind' | 'tile'>)[] = [];
  for (const map of made) stored.push({ kind: map.kind, tile: map.tile, ...(await storeMap(blobs, map)) });
  return async (manager) => {
    const { imageSetId } = await manager.getRepository(tickets).findOneByOrFail({ id: run.ticketId });
    for (const { kind, tile, ...revision } of stored) {
      const mapId = await mapAt(manager, { imageSetId, kind, tile }, run.ticketId);
      await addMapRevision(manager, mapId, run.id, { ...revision, key: run.key });
    }
    return undefined;
  };
}

export async function storeMap(blobs: BlobStore, { image, states, histograms }: MadeMap) {
  const data = blobs.writer();
  const directory = await storeImage(image, (bytes) => data.write(bytes));
  const { hash: dataHash } = await data.finish();
  const plane = blobs.writer();
  const statesDirectory = await storeStates(image, states, (bytes) => plane.write(bytes));
  const { hash: statesHash } = await plane.finish();
  const thumbnail = await encodeThumbnail(reducedCopy(image, THUMBNAIL_SIDE), THUMBNAIL_SIDE);
  const { hash: thumbnailHash } = await blobs.writeBytes(thumbnail);
  return { directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms };
}

export async function storedLayout(
  blobs: BlobStore,
  run: LayoutRunRow,
  { meshes }: Extract<OperationDone, { operation: 'layout' }>,
): Promise<Place> {
  const stored = await storeMeshes(blobs, meshes);
  return async (manager) => {
    await placeLayout(manager, run, stored);
    return undefined;
  };
}

/** The merged mesh and the ticket of its maps, which is run at once. */
export async function storedMerge(
  database: DataSource,
  blobs: BlobStore,
  run: MergeRunRow,
  { meshes }: Extract<OperationDone, { operation: 'merge' }>,
): Promise<Place> {
  const stored = await storeMeshes(blobs, meshes);
  return async (manager) => {
    const ticket = await placeMerge(manager, run, stored);
    return () => enqueueRun(database, ticket);
  };
}
