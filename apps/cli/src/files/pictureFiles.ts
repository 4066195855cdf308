import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { ZographosError } from '@zographos/core/errors';
import { limitsFrom } from '@zographos/formats/images';
import type { RunPicture } from '@zographos/operations/run-context';
import { readOnThread } from './readOnThread.ts';

/** What a flag says of a picture: FILE[:CHANNEL][:invert][:levels=BLACK-WHITE]. */
export interface PictureText {
  file: string;
  /** What is taken of it, where that is said; without a channel, all of it. */
  channel: number | null;
  invert: boolean;
  /** Stored values that become 0 and 1. */
  levels: [number, number];
}

/**
 * Reads what a flag says of a picture.
 * @returns null where it is none
 * @example parsePictureText('orm.png:g')?.channel // 1
 */
export function parsePictureText(text: string): PictureText | null {
  const [file = '', ...words] = text.split(/:(?=[rgba]$|[rgba]:|invert|levels=)/);
  const said: PictureText = { file, channel: null, invert: false, levels: [0, 1] };
  for (const word of words) {
    const range = /^levels=([\d.]+)-([\d.]+)$/.exec(word);
    if (/^[rgba]$/.test(word)) said.channel = 'rgba'.indexOf(word);
    else if (word === 'invert') said.invert = true;
    else if (range) said.levels = [Number(range[1]), Number(range[2])];
    else return null;
  }
  return said;
}

/** An image file as it came, with what names it. @throws missing/not-found */
export async function pictureFile(file: string): Promise<RunPicture> {
  const bytes = await readFile(file).catch(() => {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  });
  return { name: path.basename(file), bytes, hash: createHash('sha256').update(bytes).digest('hex') };
}

/** What can be told of an image file without its samples. @throws input/unreadable-file */
export const inspectionOf = ({ name, bytes }: RunPicture) =>
  readOnThread({ kind: 'inspection', name, bytes, limits: limitsFrom(process.env) });

/**
 * Reads an image, and what can be told of it; what it is meant as is what its name and its content say.
 * @throws missing/not-found, input/unreadable-file
 */
export async function inspectPicture(file: string) {
  const picture = await pictureFile(file);
  const { name, bytes } = picture;
  const limits = limitsFrom(process.env);
  const inspection = await inspectionOf(picture);
  const image = await readOnThread({ kind: 'image', name, bytes, limits });
  const { kind, colorSpace, convention } = inspection.guess;
  const meaning = { kind, colorSpace, ...(convention ? { convention } : {}) };
  return { name, inspection, meaning, picture, image };
}

/** An image file with how it is meant, as its name and its content say. @throws missing/not-found, input/unreadable-file */
export async function meantPicture(file: string): Promise<RunPicture> {
  const { picture, meaning } = await inspectPicture(file);
  const { colorSpace, convention } = meaning;
  return { ...picture, colorSpace, ...(convention ? { convention } : {}) };
}
