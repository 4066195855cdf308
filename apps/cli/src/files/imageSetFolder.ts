import path from 'node:path';
import { readdir, readFile } from 'node:fs/promises';
import { ZographosError } from '@zographos/core/errors';
import { MAP_KINDS, type ColorSpace, type Image, type MapKind } from '@zographos/core/image';
import {
  IMAGE_ENDINGS,
  inspectImageFile,
  limitsFrom,
  readImageFile,
  usualColorSpace,
  type ImageFormat,
} from '@zographos/formats/images';

/** The maps of one set in a folder, each named by its kind; as they are stored, and how. */
export interface ImageSet {
  name: string;
  maps: Map<MapKind, { image: Image; bits: number; colorSpace: ColorSpace }>;
  width: number;
  height: number;
}

/** The format that loses nothing of so many bits. */
export function asDeepAs(bits: readonly number[]): ImageFormat {
  const deepest = Math.max(...bits);
  if (deepest <= 8) return 'png8';
  return deepest <= 16 ? 'png16' : 'exr';
}

/** @throws missing/not-found, input/bad-settings for a folder without maps, or with maps of several sizes */
export async function readSet(folder: string): Promise<ImageSet> {
  const names = await readdir(folder).catch(() => {
    throw new ZographosError('missing/not-found', `There is no folder “${folder}”. Check the path.`);
  });
  const limits = limitsFrom(process.env);
  const set: ImageSet = { name: path.basename(path.resolve(folder)), maps: new Map(), width: 0, height: 0 };
  for (const name of names.sort()) {
    if (!IMAGE_ENDINGS.includes(path.extname(name).slice(1).toLowerCase())) continue;
    const bytes = await readFile(path.join(folder, name));
    const { inspection } = await inspectImageFile(name, bytes, limits);
    // Other pictures that lie there, a likeness or a guide, are no maps of the set.
    if (
      inspection.guess.reason !== 'from its name' &&
      !(MAP_KINDS as readonly string[]).includes(path.parse(name).name)
    )
      continue;
    const kind = MAP_KINDS.find((each) => each === path.parse(name).name) ?? inspection.guess.kind;
    const image = await readImageFile(name, bytes, limits);
    if (set.maps.size > 0 && (image.width !== set.width || image.height !== set.height)) {
      throw new ZographosError(
        'input/bad-settings',
        `“${name}” of “${set.name}” is ${image.width} × ${image.height} px, the maps before it ${set.width} × ${set.height}. Give all maps of a set one size.`,
      );
    }
    Object.assign(set, { width: image.width, height: image.height });
    const isFloat = ['exr', 'hdr'].includes(inspection.format);
    set.maps.set(kind, { image, bits: inspection.bits, colorSpace: usualColorSpace(kind, isFloat) });
  }
  if (set.maps.size > 0) return set;
  throw new ZographosError(
    'input/bad-settings',
    `“${folder}” holds no maps that can be told by their names. Name them by their kinds: ${MAP_KINDS.slice(0, 5).join(', ')} …`,
  );
}
