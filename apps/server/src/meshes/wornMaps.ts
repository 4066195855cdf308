import { In, type DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { phraseOfKinds } from '@zographos/core/image';
import { CARRIED_KINDS } from '@zographos/operations';
import type { BlobStore } from '../blobs/blobStore.ts';
import { imageSets, maps, runs, tickets, type RunRow } from '../data/entities.ts';
import { mapsInEffect } from '../data/mapsInEffect.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { notFound } from '../data/readProject.ts';
import { wearersOf } from '../data/wearers.ts';
import { loadMapImage } from '../data/mapImages.ts';
import { meshAsset } from './meshAsset.ts';
import { fileFrom } from './meshDesk.ts';
import type { NamedMesh, WornMaps } from './meshThread.ts';

/** The newest maps of an image set that a material can have, and the meshes that lie on its layout. */
export async function readWornMaps(
  database: DataSource,
  blobs: BlobStore,
  imageSetId: string,
): Promise<{ worn: WornMaps; meshIds: string[] }> {
  const set = (await database.getRepository(imageSets).findOneBy({ id: imageSetId })) ?? notFound('image set');
  const places = await database.getRepository(maps).findBy({ imageSetId, kind: In([...CARRIED_KINDS]) });
  if (new Set(places.map(({ tile }) => tile)).size > 1) {
    throw new ZographosError(
      'input/bad-settings',
      `“${set.name}” lies on several UDIM tiles, which a material of glTF cannot hold. Export the mesh without maps.`,
    );
  }
  const worn: WornMaps = { uvSet: set.uvSet, maps: [] };
  const made = await latestMapRevisions(
    database,
    places.map(({ id }) => id),
  );
  for (const { id, kind } of mapsInEffect(places, made)) {
    const revision = made.get(id);
    const known = CARRIED_KINDS.find((each) => each === kind);
    if (!revision || !known) continue;
    const run = await database.getRepository(runs).findOneBy({ id: revision.runId });
    const image = await loadMapImage(blobs, revision);
    worn.maps.push({ kind: known, image, layout: layoutOf(run) });
  }
  if (worn.maps.length === 0) {
    throw new ZographosError(
      'input/bad-settings',
      `“${set.name}” has no map yet that a material could have. Bake its ${phraseOfKinds([...CARRIED_KINDS])} map first.`,
    );
  }
  const users = await database.getRepository(tickets).findBy({ imageSetId });
  return { worn, meshIds: wearersOf(set, users) };
}

/** The fingerprint of the layout that a run made maps for. */
const layoutOf = (run: RunRow | null): string =>
  run?.operation === 'bake' || run?.operation === 'layers' ? (run.report?.layout ?? '') : '';

/** The meshes of an image set as GLB, with its maps as their material. @throws input/other-layout, input/bad-settings */
export async function wornGlb(database: DataSource, blobs: BlobStore, imageSetId: string): Promise<Uint8Array> {
  const { worn, meshIds } = await readWornMaps(database, blobs, imageSetId);
  const meshes = await namedMeshes(database, blobs, meshIds);
  const { bytes } = await fileFrom({
    ...{ what: 'file', meshes, name: meshes[0]!.name, format: 'glb' },
    ...{ worn, beside: false },
  });
  return bytes;
}

/** Meshes as they travel to the thread that works on them. */
export const namedMeshes = (database: DataSource, blobs: BlobStore, ids: readonly string[]): Promise<NamedMesh[]> =>
  Promise.all(
    ids.map(async (id) => {
      const { asset } = await meshAsset(database, id);
      return { name: asset.name, packed: await blobs.readBytes(asset.contentHash) };
    }),
  );
