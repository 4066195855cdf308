import { describeKind } from '@zographos/core/image';
import type { ImageAsset, ImageSet, Project, TextureMap } from '@zographos/contracts';
import type { PictureMeaning } from '@zographos/operations';

/** What an image of the project holds where it is taken whole. A photograph is a base colour. */
export const meaningOfImage = ({
  imageKind,
  colorSpace,
  convention,
}: Pick<ImageAsset, 'imageKind' | 'colorSpace' | 'convention'>): PictureMeaning => ({
  kind: imageKind === 'image' ? 'basecolor' : imageKind,
  colorSpace,
  ...(convention ? { convention } : {}),
});

/** What a map of an image set holds. */
export const meaningOfMap = ({ kind }: Pick<TextureMap, 'kind'>): PictureMeaning => ({
  kind,
  colorSpace: describeKind(kind).values === 'color' ? 'srgb' : 'linear',
});

/** The maps of a set that are there to be read. */
export const madeMaps = ({ maps }: ImageSet): TextureMap[] => maps.filter(({ revisions }) => revisions[0]);

/**
 * Puts an image among those of a ticket.
 * @param id of an image or of a map of the project
 * @returns its number among them, and all of them; null where the project has it no more
 */
export function withImage(
  { pictures, images }: { pictures: readonly PictureMeaning[]; images: readonly string[] },
  id: string,
  project: Pick<Project, 'assets' | 'imageSets'>,
): { number: number; pictures: PictureMeaning[]; images: string[] } | null {
  const known = images.indexOf(id);
  if (known >= 0) return { number: known, pictures: [...pictures], images: [...images] };
  const image = project.assets.find((each): each is ImageAsset => each.kind === 'image' && each.id === id);
  const map = project.imageSets.flatMap(({ maps }) => maps).find((each) => each.id === id);
  const meaning = image ? meaningOfImage(image) : map && meaningOfMap(map);
  if (!meaning) return null;
  return { number: pictures.length, pictures: [...pictures, meaning], images: [...images, id] };
}
