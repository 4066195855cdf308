import type { DataSource } from 'typeorm';
import { ArchiveWriter } from '@zographos/formats/archive';
import type { DeliveryReport } from '@zographos/operations';
import { deliver, type Progress, type SetOnTheWay } from '@zographos/operations/run';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { DeliverRunRow } from '../data/entities.ts';
import { readProjectSummary } from '../data/readProject.ts';
import { wornGlb } from '../meshes/wornMaps.ts';
import { factsOf, setsToDeliver, type SetToDeliver } from '../runs/deliveries.ts';
import { loadMapImage } from '../data/mapImages.ts';
import type { Place } from './storeResults.ts';

/** Makes a delivery: each file is written into the archive as it is done, and the archive into the database as it grows. */
export async function computeDelivery(
  { projectId, settings }: DeliverRunRow,
  cancelFlag: Int32Array,
  { database, blobs }: { database: DataSource; blobs: BlobStore },
  onProgress: (progress: Progress) => void,
): Promise<{ report: DeliveryReport; place: Place }> {
  const since = performance.now();
  const { name: project } = await readProjectSummary(database, projectId);
  const sets = await setsToDeliver(database, projectId, settings.sets);
  const writer = blobs.writer();
  try {
    const archive = new ArchiveWriter((bytes) => writer.write(bytes));
    const { manifest, notes } = await deliver(
      settings.profile,
      project,
      sets.map((set) => onTheWay(set, database, blobs)),
      { cancelFlag, onProgress, write: (path, bytes) => archive.add(path, bytes) },
    );
    await archive.finish();
    const { hash, size } = await writer.finish();
    const report = {
      ...{ files: manifest.files.length, bytes: size, archive: hash, notes },
      seconds: (performance.now() - since) / 1000,
    };
    return { report, place: () => Promise.resolve(undefined) };
  } catch (error) {
    await writer.discard();
    throw error;
  }
}

function onTheWay(set: SetToDeliver, database: DataSource, blobs: BlobStore): SetOnTheWay {
  const find = (kind: string, tile: number) => set.maps.find((map) => map.kind === kind && map.tile === tile);
  return {
    ...factsOf(set),
    tileWidth: set.tileWidth,
    madeBy: (kind, tile) => find(kind, tile)?.madeBy ?? null,
    load: (kind, tile) => loadMapImage(blobs, find(kind, tile)!.revision),
    mesh: () => wornGlb(database, blobs, set.id),
  };
}
