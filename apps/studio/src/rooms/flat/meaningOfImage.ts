import type { ImageAsset } from '@zographos/contracts';
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
