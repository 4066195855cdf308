import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { MapKind } from '@zographos/core/image';
import { materialsOf, picturesOf, strokesOf, type Layer } from '@zographos/core/layers';
import { ArchiveWriter } from '@zographos/formats/archive';
import { formatFor, IMAGE_FORMATS } from '@zographos/formats/images';
import { stackFileOf, strokeOfRecord, type StackFile } from '@zographos/operations';
import type { BlobStore, StoredBlob } from '../blobs/blobStore.ts';
import { imageSets, maps, type LayersTicketRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { loadMapImage } from '../data/mapImages.ts';
import { mapsInEffect } from '../data/mapsInEffect.ts';
import { readAsset } from '../data/readProject.ts';
import { fileName } from '../http/attach.ts';
import { readOnThread } from '../intake/intakeDesk.ts';
import { readStrokes } from '../runs/strokes.ts';
import type { Services } from '../services.ts';

/**
 * Layers with all that they are made of, as one ZIP: `stack.json`, the images in `pictures/`, and the maps of each tiling
 * material in a folder of `materials/`. What a stack goes by (measured maps) is not in it: it finds those of its receiver.
 * @throws missing/not-found for a stroke, an image or a material that is gone
 */
export async function packStack(
  services: Services,
  { settings, inputs }: Pick<LayersTicketRow, 'settings' | 'inputs'>,
  name: string,
  layers: readonly Layer[],
): Promise<StoredBlob> {
  const { database, blobs } = services;
  const files: { path: string; bytes: Uint8Array }[] = [];
  const records = await readStrokes(blobs, strokesOf(layers));
  const strokes = new Map(records.map(([hash, record]) => [hash, strokeOfRecord(record)]));
  const pictures: string[] = [];
  const pictureNumbers = new Map<number, number>();
  for (const number of [...picturesOf(layers, strokes)].sort((a, b) => a - b)) {
    const asset = await readAsset(database, inputs.pictures?.[number] ?? '');
    const path = `pictures/${pictures.length + 1} ${fileName(asset.fileName)}`;
    files.push({ path, bytes: await blobs.readBytes(asset.originalHash) });
    pictureNumbers.set(number, pictures.push(path) - 1);
  }
  const materials: StackFile['materials'] = [];
  const materialNumbers = new Map<number, number>();
  for (const number of [...materialsOf(layers, strokes)].sort((a, b) => a - b)) {
    const material = settings.materials[number];
    const folder = `materials/${materials.length + 1} ${fileName(material?.name ?? 'material')}`;
    if (!material?.set) throw gone(material?.name ?? `Material ${number + 1}`);
    files.push(...(await mapsOfSet(database, blobs, material.set, folder)));
    materialNumbers.set(number, materials.push({ name: material.name, folder, width: material.width }) - 1);
  }
  const file = stackFileOf({
    ...{ name, mixing: settings.mixing, layers, pictures, materials },
    strokes: Object.fromEntries(strokes),
    ...{ pictureNumbers, materialNumbers },
  });
  return written(blobs, [{ path: 'stack.json', bytes: Buffer.from(`${JSON.stringify(file, null, 2)}\n`) }, ...files]);
}

async function mapsOfSet(
  database: DataSource | EntityManager,
  blobs: BlobStore,
  imageSetId: string,
  folder: string,
): Promise<{ path: string; bytes: Uint8Array }[]> {
  const set = await database.getRepository(imageSets).findOneBy({ id: imageSetId });
  const rows = await database.getRepository(maps).findBy({ imageSetId });
  const made = await latestMapRevisions(
    database,
    rows.map(({ id }) => id),
  );
  const files: { path: string; bytes: Uint8Array }[] = [];
  for (const { id, kind } of mapsInEffect(rows, made)) {
    const revision = made.get(id);
    if (!revision) continue;
    files.push({ path: `${folder}/${fileOf(kind)}`, bytes: await asFile(blobs, kind, revision) });
  }
  if (!set || files.length === 0) throw gone(set?.name ?? 'A material');
  return files;
}

const fileOf = (kind: MapKind): string => `${kind}.${IMAGE_FORMATS[formatFor(kind)].ending}`;

async function asFile(
  blobs: BlobStore,
  kind: MapKind,
  revision: Parameters<typeof loadMapImage>[1],
): Promise<Uint8Array> {
  const image = await loadMapImage(blobs, revision);
  const { bytes } = await readOnThread({ kind: 'file', name: kind, image, format: formatFor(kind) });
  return bytes;
}

async function written(blobs: BlobStore, files: readonly { path: string; bytes: Uint8Array }[]): Promise<StoredBlob> {
  const parts: Uint8Array[] = [];
  const archive = new ArchiveWriter((bytes) => {
    parts.push(bytes);
    return Promise.resolve();
  });
  for (const { path, bytes } of files) await archive.add(path, bytes);
  await archive.finish();
  return blobs.writeBytes(Buffer.concat(parts));
}

const gone = (name: string): ZographosError =>
  new ZographosError(
    'missing/not-found',
    `“${name}” has no maps any more, and a layer is made of it. Choose another material, or remove the layer.`,
  );
