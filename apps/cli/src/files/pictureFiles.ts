import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import { inspectImageFile, limitsFrom, readImageFile } from '@zographos/formats/images';

/** A picture as it came. @throws missing/not-found */
export async function pictureBytes(file: string): Promise<{ name: string; bytes: Uint8Array }> {
  const bytes = await readFile(file).catch(() => {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  });
  return { name: path.basename(file), bytes };
}

/** A picture as it came, with what names it. @throws missing/not-found */
export async function pictureFile(file: string): Promise<{ name: string; bytes: Uint8Array; hash: string }> {
  const { name, bytes } = await pictureBytes(file);
  return { name, bytes, hash: createHash('sha256').update(bytes).digest('hex') };
}

/** Reads a picture from a file. @throws missing/not-found, input/unreadable-file */
export async function loadPicture(file: string): Promise<Image> {
  const { name, bytes } = await pictureBytes(file);
  return readImageFile(name, bytes, limitsFrom(process.env));
}

/** Reads a picture, and what can be told of it. @throws missing/not-found, input/unreadable-file */
export async function inspectPicture(file: string) {
  const { name, bytes } = await pictureBytes(file);
  const limits = limitsFrom(process.env);
  const { inspection } = await inspectImageFile(name, bytes, limits);
  return { name, inspection, image: await readImageFile(name, bytes, limits) };
}
