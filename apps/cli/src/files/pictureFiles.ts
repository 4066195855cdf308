import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { ZographosError } from '@zographos/core/errors';
import { limitsFrom } from '@zographos/formats/images';
import type { RunPicture } from '@zographos/operations/run-context';
import { readOnThread } from './readOnThread.ts';

/** An image file as it came, with what names it. @throws missing/not-found */
export async function pictureFile(file: string): Promise<RunPicture> {
  const bytes = await readFile(file).catch(() => {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  });
  return { name: path.basename(file), bytes, hash: createHash('sha256').update(bytes).digest('hex') };
}

/**
 * Reads an image, and what can be told of it; what it is meant as is what its name and its content say.
 * @throws missing/not-found, input/unreadable-file
 */
export async function inspectPicture(file: string) {
  const { name, bytes, hash } = await pictureFile(file);
  const limits = limitsFrom(process.env);
  const inspection = await readOnThread({ kind: 'inspection', name, bytes, limits });
  const image = await readOnThread({ kind: 'image', name, bytes, limits });
  const { kind, colorSpace, convention } = inspection.guess;
  const meaning = { kind, colorSpace, ...(convention ? { convention } : {}) };
  return { name, inspection, meaning, picture: { name, bytes, hash }, image };
}
