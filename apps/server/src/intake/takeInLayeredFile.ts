import { In } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { FileLayer } from '@zographos/formats/images';
import type { LayeredFileTaken } from '@zographos/contracts';
import { assets } from '../data/entities.ts';
import { announce } from '../events/channel.ts';
import { GUIDE_PREFIX } from '../meshes/guidePrefix.ts';
import type { Services } from '../services.ts';
import { readOnThread } from './intakeDesk.ts';
import { takeIn } from './takeIn.ts';
import type { IncomingFile } from './takeInFile.ts';

/**
 * Makes an image of each layer of a file that a paint program wrote, as large as the whole. When the file comes again, its
 * layers become the next revisions of those images, and what is made of them is out of date.
 * @throws input/wrong-file-type, input/unreadable-file, input/empty-file, limit/pixels, limit/archive, limit/objects
 */
export async function takeInLayeredFile(
  services: Services,
  projectId: string,
  file: IncomingFile,
): Promise<LayeredFileTaken> {
  const { database, blobs, config } = services;
  const bytes = await blobs.readBytes(file.blob.hash);
  const read = await readOnThread({ kind: 'layered', name: file.name, bytes, limits: config.limits });
  const layers = read.layers.filter(({ name }) => !name.startsWith(GUIDE_PREFIX));
  const stem = file.name.replace(/\.[^.]*$/, '');
  if (layers.length === 0) {
    throw new ZographosError(
      'input/empty-file',
      `“${file.name}” has no layer that anything is painted on. Paint on a layer of its own, and save the file again.`,
    );
  }
  const names = namesOf(stem, layers);
  const incoming: IncomingFile[] = [];
  for (const [i, { png }] of layers.entries()) {
    incoming.push({ name: `${names[i]!}.png`, blob: await blobs.writeBytes(png) });
  }
  const { assets: taken, failures } = await takeIn(services, projectId, incoming, { existing: 'revise' });
  if (failures[0]) throw new ZographosError('input/unreadable-file', failures[0].message);
  // Words in the names of layers say nothing about what their colours are.
  const ids = taken.map(({ id }) => id);
  await database.getRepository(assets).update({ id: In(ids) }, { imageKind: 'basecolor', colorSpace: 'srgb' });
  await announce(database, { type: 'changed', projectId });
  const told = layers.map(({ name, visible, opacity, blend }, i) => {
    const image = taken.find((asset) => asset.name === names[i])!.id;
    return { image, name, visible, opacity, blend };
  });
  return { name: stem, layers: told, notes: read.notes };
}

/** What images of layers are called: by file and layer, each name once. */
function namesOf(stem: string, layers: readonly FileLayer[]): string[] {
  const used = new Map<string, number>();
  return layers.map(({ name }) => {
    const plain = `${stem}, ${name.replaceAll(/\s*\/\s*/g, ', ')}`;
    const count = (used.get(plain) ?? 0) + 1;
    used.set(plain, count);
    return count === 1 ? plain : `${plain} (${count})`;
  });
}
