import { ZographosError } from '@zographos/core/errors';
import {
  describeKind,
  isColor,
  isDirection,
  type Image,
  type MapConvention,
  type MapKind,
} from '@zographos/core/image';
import { MATERIAL_CHANNELS, type MaterialChannel } from '@zographos/core/mesh';
import type { RunMesh } from '../scene/runMesh.ts';

/** Maps that are carried over from pictures: as what they are seen on a material, and what they are afterwards. */

type Channel = MaterialChannel | 'normal';

/** What a map is seen as on a material while it is carried over: directions are re-expressed, the rest is light. */
export const seenAs = (kind: MapKind): Channel => {
  if (isChannel(kind)) return kind;
  return isDirection(kind) ? 'normal' : 'emission';
};

/** Whether materials have a channel for a kind of map; others each stand for a light of their own. */
export const isChannel = <Kind extends MapKind>(kind: Kind): kind is Kind & Channel =>
  kind === 'normal' || (MATERIAL_CHANNELS as readonly string[]).includes(kind);

/**
 * The image as its own kind: what is data is not seen through the sRGB curve, what is grey is one channel.
 * @param convention of what it was carried over from
 */
export function asMeant(kind: MapKind, image: Image, convention?: MapConvention): Image {
  if (isChannel(kind) || isColor(kind) || isDirection(kind)) return image;
  const { width, height, channels, data } = image;
  const meaning = convention ? { convention } : {};
  if (describeKind(kind).channels > 1) return { width, height, channels, data, ...meaning };
  const grey = new Float32Array(width * height);
  for (let i = 0; i < grey.length; i++) grey[i] = data[i * channels]!;
  return { width, height, channels: 1, data: grey, ...meaning };
}

/**
 * A layout that is not there would be read as a single point.
 * @param lies what it is that lies on it, with its verb
 * @throws input/no-uvs
 */
export function requireUvSet(sources: readonly RunMesh[], uvSet: number, lies: string): void {
  const bare = sources.find(({ mesh }) => !mesh.uvSets[uvSet]);
  if (!bare) return;
  throw new ZographosError(
    'input/no-uvs',
    `“${bare.mesh.name}” has no UV set ${uvSet + 1}, so it cannot be told where ${lies} on it. Choose another of its sets, or another source.`,
  );
}
