import { createHash } from 'node:crypto';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { GLTF_NORMAL, isSameSpace, type MapConvention, type MapKind } from '@zographos/core/image';
import { assets, imageSets, maps, type MapRevisionRow } from './entities.ts';
import { latestMapRevisions, latestRevisions } from './latestRevisions.ts';

/** A picture that a ticket works on: an image that was brought in, or the newest state of a map. */
export interface Picture {
  id: string;
  projectId: string;
  name: string;
  file: string;
  /** Stands for its content, and for how that is meant. */
  contentHash: string;
  /** Of a map: what is held of it. */
  revision: MapRevisionRow | null;
  kind: MapKind;
}

/** Pictures by their ids; those that are not there, or maps that were never made, are left out. */
export async function latestPictures(
  database: DataSource | EntityManager,
  ids: readonly string[],
): Promise<Map<string, Picture>> {
  const found = new Map<string, Picture>();
  const images = await database.getRepository(assets).findBy({ id: In([...ids]), kind: 'image' });
  const revisions = await latestRevisions(
    database,
    images.map(({ id }) => id),
  );
  for (const { id, projectId, name, imageKind } of images) {
    const revision = revisions.get(id);
    if (!revision) continue;
    const { fileName: file, contentHash } = revision;
    found.set(id, { id, projectId, name, file, contentHash, revision: null, kind: imageKind ?? 'image' });
  }
  const rows = await database.getRepository(maps).findBy({ id: In([...ids]) });
  const sets = await database.getRepository(imageSets).findBy({ id: In(rows.map(({ imageSetId }) => imageSetId)) });
  const made = await latestMapRevisions(
    database,
    rows.map(({ id }) => id),
  );
  for (const { id, imageSetId, kind } of rows) {
    const set = sets.find((each) => each.id === imageSetId)!;
    const revision = made.get(id);
    if (!revision) continue;
    const name = `${set.name} ${kind}`;
    found.set(id, { id, projectId: set.projectId, name, file: name, contentHash: hashOf(revision), revision, kind });
  }
  return found;
}

/** The same numbers mean something else over another range or through another curve. */
const hashOf = ({ dataHash, directory: { range, colorSpace, convention } }: MapRevisionRow): string =>
  createHash('sha256')
    .update(JSON.stringify([dataHash, range, colorSpace, ...(isUsual(convention) ? [] : [convention])]))
    .digest('hex');

/** What was taken for granted before maps said it; it leaves names of content as they were. */
const isUsual = (convention: MapConvention | undefined): boolean =>
  convention?.of !== 'direction' || isSameSpace(convention, GLTF_NORMAL);
