import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { layerById, type Layer } from '@zographos/core/layers';
import type { Coating, UsedCoating } from '@zographos/contracts';
import {
  parseSettings,
  parseStackFile,
  recordOfStroke,
  renumberedLayers,
  renumberedStroke,
  type StackFile,
} from '@zographos/operations';
import type { StoredBlob } from '../blobs/blobStore.ts';
import { assets, coatings, imageSets, type CoatingRow, type LayersTicketRow } from '../data/entities.ts';
import { notFound, readAsset, readProjectSummary } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { readOnThread } from '../intake/intakeDesk.ts';
import { takeIn } from '../intake/takeIn.ts';
import { enqueueRun } from '../runs/queue.ts';
import { keepStroke } from '../runs/strokes.ts';
import type { Services } from '../services.ts';
import { createTicket, readLayersTicket } from '../tickets/tickets.ts';
import { packStack } from './stackArchive.ts';

/** The library of coatings: layers kept with all that they are made of, to be laid on other receivers. */

const toCoating = ({ id, name, layers, createdAt }: CoatingRow): Coating => ({
  ...{ id, name, layers },
  createdAt: createdAt.toISOString(),
});

export const readCoatings = async (database: DataSource): Promise<Coating[]> =>
  (await database.getRepository(coatings).find({ order: { createdAt: 'DESC' } })).map(toCoating);

/** @throws missing/not-found */
export async function keepCoating(
  services: Services,
  ticketId: string,
  { layerId, name }: { layerId: string; name: string },
): Promise<Coating> {
  const row = await readLayersTicket(services.database, ticketId);
  const layer = layerById(row.settings.layers, layerId) ?? notFound('layer');
  const { hash } = await packStack(services, row, name, [layer]);
  return put(services, name, [layer], hash);
}

/** Takes a coating in from its file. @throws input/unreadable-file, limit/archive */
export async function takeInCoating(services: Services, file: { name: string; blob: StoredBlob }): Promise<Coating> {
  const { stack } = await unpacked(services, file.name, file.blob.hash);
  return put(services, stack.name, stack.layers, file.blob.hash);
}

const put = async ({ database }: Services, name: string, layers: readonly Layer[], hash: string): Promise<Coating> =>
  toCoating(await database.getRepository(coatings).save({ name, layers: layers.length, hash }));

/** Everything of a layers ticket as one file. */
export async function stackAsFile(services: Services, ticketId: string): Promise<{ name: string; blob: StoredBlob }> {
  const row: LayersTicketRow = await readLayersTicket(services.database, ticketId);
  return { name: row.name, blob: await packStack(services, row, row.name, row.settings.layers) };
}

/**
 * Brings what a coating is made of into a project: its images, its materials as flat sets, and its strokes.
 * @param first numbers that the first of its images and of its materials are to have
 * @returns its layers, which name images and materials by these numbers
 * @throws missing/not-found, input/unreadable-file
 */
export async function useCoating(
  services: Services,
  projectId: string,
  coatingId: string,
  first: { firstPicture: number; firstMaterial: number },
): Promise<UsedCoating> {
  const { database, blobs } = services;
  await readProjectSummary(database, projectId);
  const row = (await database.getRepository(coatings).findOneBy({ id: coatingId })) ?? notFound('coating');
  const { stack, files } = await unpacked(services, row.name, row.hash);
  const pictures: string[] = [];
  for (const path of stack.pictures) pictures.push(await asImage(services, projectId, path, files));
  const materials: string[] = [];
  for (const material of stack.materials) materials.push(await asFlatSet(services, projectId, material, files));
  const numbering = {
    pictures: new Map(pictures.map((_, i) => [i, first.firstPicture + i])),
    materials: new Map(materials.map((_, i) => [i, first.firstMaterial + i])),
  };
  const strokeNames = new Map<string, string>();
  for (const [name, stroke] of Object.entries(stack.strokes)) {
    strokeNames.set(
      name,
      (await keepStroke(database, blobs, projectId, recordOfStroke(renumberedStroke(stroke, numbering)))).hash,
    );
  }
  await announce(database, { type: 'changed', projectId });
  return {
    name: row.name,
    layers: renumberedLayers(stack.layers, { ...numbering, strokeNames }),
    pictures,
    materials,
  };
}

interface Unpacked {
  stack: StackFile;
  files: ReadonlyMap<string, Uint8Array>;
}

async function unpacked({ blobs, config }: Services, name: string, hash: string): Promise<Unpacked> {
  const bytes = await blobs.readBytes(hash);
  const { maxExpandedBytes } = config;
  const { files } = await readOnThread({ kind: 'archive', name, bytes, maxExpandedBytes, holds: 'stack' });
  const byPath = new Map(files.map((file) => [file.name, file.bytes]));
  const text = byPath.get('stack.json');
  if (!text) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” holds no stack.json, so it is no coating. Keep a layer as a coating and download that, or write one with cli layers --example.`,
    );
  }
  return { stack: parseStackFile(`${name}/stack.json`, Buffer.from(text).toString('utf8')), files: byPath };
}

async function asImage(services: Services, projectId: string, path: string, files: Unpacked['files']): Promise<string> {
  const bytes = files.get(path) ?? notFound(`image “${path}” of the coating`);
  const name = path.slice(path.lastIndexOf('/') + 1).replace(/^\d+ /, '');
  const file = { name, blob: await services.blobs.writeBytes(Buffer.from(bytes)) };
  const { assets: taken, failures } = await takeIn(services, projectId, [file], { existing: 'separate' });
  if (failures[0]) throw new ZographosError('input/unreadable-file', failures[0].message);
  return (taken[0] ?? notFound('image of the coating')).id;
}

/** A material as a flat set, whose maps a first run makes. */
async function asFlatSet(
  services: Services,
  projectId: string,
  { name, folder, width: tileWidth }: StackFile['materials'][number],
  files: Unpacked['files'],
): Promise<string> {
  const { database } = services;
  const ids: string[] = [];
  for (const path of files.keys()) {
    if (path.startsWith(`${folder}/`)) ids.push(await asImage(services, projectId, path, files));
  }
  const rows = await Promise.all(ids.map((id) => database.getRepository(assets).findOneByOrFail({ id })));
  const images = rows.filter(({ imageKind }) => imageKind !== null);
  const first = images[0] ?? notFound(`material “${name}” of the coating`);
  const asset = await readAsset(database, first.id);
  const { width, height } = asset.kind === 'image' ? asset.inspection : notFound('image of the coating');
  const asItIs = { method: 'none' as const };
  const { id, imageSetId } = await createTicket(database, projectId, {
    name: `${name}, as kept`,
    operation: 'seamless',
    settings: parseSettings('seamless', {
      pictures: images.map(({ imageKind, colorSpace, convention }) => ({
        kind: imageKind,
        colorSpace,
        ...(convention ? { convention } : {}),
      })),
      ends: { across: asItIs, up: asItIs },
      size: { width, height },
    }),
    inputs: { receivers: [], sources: [], pictures: images.map((image) => image.id) },
    set: { name },
  });
  await database.getRepository(imageSets).update({ id: imageSetId }, { tileWidth });
  await enqueueRun(database, id);
  return imageSetId;
}
