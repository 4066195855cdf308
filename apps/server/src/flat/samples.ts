import { SKETCH_SIDE, sketchOf, type Image } from '@zographos/core/image';
import { assets, assetRevisions, mapRevisions } from '../data/entities.ts';
import { notFound } from '../data/readProject.ts';
import { latestPictures } from '../data/pictures.ts';
import { readOnThread } from '../intake/intakeDesk.ts';
import { levelFor, loadMapImage } from '../data/mapImages.ts';
import type { Services } from '../services.ts';

/**
 * What a picture or a map holds, reduced to at most `side` texels, or to its sketch: colours as light.
 * @param id of an image, a map, or a revision of a map
 * @throws missing/not-found
 */
export async function readSamples(
  { database, blobs, config }: Services,
  id: string,
  side: number | 'sketch',
): Promise<Image> {
  const asset = await database.getRepository(assets).findOneBy({ id, kind: 'image' });
  if (!asset) {
    const revision =
      (await database.getRepository(mapRevisions).findOneBy({ id })) ??
      (await latestPictures(database, [id])).get(id)?.revision ??
      notFound('picture');
    if (side !== 'sketch') return loadMapImage(blobs, revision, levelFor(revision.directory, side));
    // Levels are halves of each other, as sketches are.
    return sketchOf(await loadMapImage(blobs, revision, levelFor(revision.directory, SKETCH_SIDE)));
  }
  const [latest] = await database
    .getRepository(assetRevisions)
    .find({ where: { assetId: id }, order: { number: 'DESC' }, take: 1 });
  if (!latest) return notFound('picture');
  const { image } = await readOnThread({
    ...{ kind: 'samples', name: latest.fileName, bytes: await blobs.readBytes(latest.contentHash), side },
    ...{ colorSpace: asset.colorSpace ?? 'linear', limits: config.limits },
  });
  return image;
}
