import {
  kindsOfPacking,
  pickOfMap,
  type ColorSpace,
  type ImagePacking,
  type MapConvention,
} from '@zographos/core/image';
import type { PictureMeaning } from './adjustments.ts';

/**
 * What each map of a packed file is, as a ticket says it: the colours of a file keep how it is meant, single channels are
 * numbers. A map whose channels lie scattered is left out, for no pick can say it.
 * @example meaningsOfPacking(ORM, { colorSpace: 'linear', convention: null })[1] // roughness, of channel 1
 */
export const meaningsOfPacking = (
  packing: ImagePacking,
  { colorSpace, convention }: { colorSpace: ColorSpace; convention: MapConvention | null },
): PictureMeaning[] =>
  kindsOfPacking(packing).flatMap((kind): PictureMeaning[] => {
    const pick = pickOfMap(packing, kind);
    if (!pick) return [];
    if (pick.channel !== 'rgb') return [{ kind, colorSpace: 'linear', pick }];
    return [{ kind, colorSpace, ...(convention ? { convention } : {}), pick }];
  });
