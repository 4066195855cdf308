import type { DataSource } from 'typeorm';
import { describeKind, type MapKind } from '@zographos/core/image';
import type { BlobStore } from '../blobs/blobStore.ts';
import { imageSets } from '../data/entities.ts';
import { levelFor, loadMapImage } from '../data/mapImages.ts';
import { notFound } from '../data/readProject.ts';
import { readRunSets } from '../data/runSets.ts';
import type { GuideMap } from './layeredGuide.ts';

/** Maps that one paints over, the lowest first. */
const KINDS: readonly MapKind[] = ['id', 'ao', 'normal', 'basecolor'];

/** The newest maps of a tile that are worth painting over. @throws missing/not-found */
export async function guideMaps(
  database: DataSource,
  blobs: BlobStore,
  setId: string,
  tile: number,
  size: { width: number; height: number },
): Promise<GuideMap[]> {
  const { projectId } = (await database.getRepository(imageSets).findOneBy({ id: setId })) ?? notFound('image set');
  const [set] = await readRunSets(database, projectId, [setId]);
  const found: GuideMap[] = [];
  for (const kind of KINDS) {
    const map = set!.maps.find((each) => each.kind === kind && each.tile === tile);
    if (!map) continue;
    const { directory } = map.revision;
    const image = await loadMapImage(blobs, map.revision, levelFor(directory, Math.max(size.width, size.height)));
    found.push({ name: describeKind(kind).label, image, isLight: directory.colorSpace === 'srgb' });
  }
  return found;
}
