import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core';
import type { Asset, Finish } from '@zographos/contracts';
import { encodeImage } from '@zographos/formats/images';
import { assets, finishes, imageSets, maps, type FinishRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { notFound, readAsset, readProjectSummary } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { fileName } from '../http/attach.ts';
import { takeIn } from '../intake/takeIn.ts';
import { loadMapImage } from '../runs/mapImages.ts';
import type { Services } from '../services.ts';

/** The library of finishes: flat sets kept as they were, whatever becomes of their projects. */

export const toFinish = ({ id, name, tags, tileWidth, maps: held, createdAt }: FinishRow): Finish => ({
  ...{ id, name, tags, tileWidth },
  maps: held.map(({ kind, directory, thumbnailHash }) => {
    const { width, height } = directory.levels[0]!;
    return { kind, width, height, thumbnailHash };
  }),
  createdAt: createdAt.toISOString(),
});

export async function readFinishes(database: DataSource): Promise<Finish[]> {
  return (await database.getRepository(finishes).find({ order: { createdAt: 'DESC' } })).map(toFinish);
}

/** @throws input/bad-settings for a set without maps, missing/not-found */
export async function keepFinish(
  database: DataSource,
  imageSetId: string,
  { name, tags, tileWidth }: { name: string; tags: string[]; tileWidth: number | null },
): Promise<Finish> {
  const set = await database.getRepository(imageSets).findOneBy({ id: imageSetId });
  if (!set || set.receiverId !== null) return notFound('flat set');
  const held: FinishRow['maps'] = [];
  const rows = await database.getRepository(maps).findBy({ imageSetId });
  const made = await latestMapRevisions(
    database,
    rows.map(({ id }) => id),
  );
  for (const { id, kind } of rows) {
    const revision = made.get(id);
    if (!revision) continue;
    const { directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms } = revision;
    held.push({ kind, directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms });
  }
  if (held.length === 0) {
    throw new ZographosError(
      'input/bad-settings',
      `“${set.name}” has no map yet that could be kept. Run its tickets first.`,
    );
  }
  return toFinish(await database.getRepository(finishes).save({ name, tags, tileWidth, maps: held }));
}

/** Brings the maps of a finish into a project, each as a picture. @throws missing/not-found */
export async function bringInFinish(services: Services, projectId: string, finishId: string): Promise<Asset[]> {
  const { database, blobs } = services;
  await readProjectSummary(database, projectId);
  const finish = (await database.getRepository(finishes).findOneBy({ id: finishId })) ?? notFound('finish');
  const made: Asset[] = [];
  for (const { kind, ...held } of finish.maps) {
    const image = await loadMapImage(blobs, held);
    const name = `${fileName(finish.name)}_${kind}.${kind === 'displacement' ? 'exr' : 'png'}`;
    const bytes = await encodeImage(image, kind === 'displacement' ? 'exr' : 'png16');
    const blob = await blobs.writeBytes(bytes);
    const { assets: taken } = await takeIn(services, projectId, [{ name, blob }]);
    for (const { id } of taken) {
      // What it holds is known here, and need not be guessed from its name.
      const colorSpace = held.directory.colorSpace ?? 'linear';
      await database.getRepository(assets).update({ id }, { imageKind: kind, colorSpace });
      made.push(await readAsset(database, id));
    }
  }
  await announce(database, { type: 'changed', projectId });
  return made;
}
