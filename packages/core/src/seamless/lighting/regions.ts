import type { Image } from '../../image/image.ts';
import { luminance, planeLike } from '../../image/planes.ts';
import { medianFilter } from '../../image/filter/medianFilter.ts';
import { resample } from '../../image/filter/resample.ts';
import { isSameSize, sizeWithin, type Size } from '../../math/size.ts';

/** Texels of the longer side of the copy on which regions of a picture are told. */
export const REGION_SIDE = 224;
/** Half the width of what is no region but texture, as a share of the longer side. */
const TEXTURE = 1 / 40;
/** Light as small as this is taken for none, lest dark places be blown up. */
export const LEAST_LIGHT = 1 / 512;

export const textureRadius = ({ width, height }: Size): number =>
  Math.max(1, Math.round(TEXTURE * Math.max(width, height)));

/** Natural logarithms of brightness, and of red and blue over green, without texture. */
export interface Regions {
  bright: Image;
  red: Image;
  blue: Image;
}

export function regionsOf(image: Image): Regions {
  const { channels, data } = image;
  const [red, blue] = [planeLike(image), planeLike(image)];
  for (let i = 0, at = 0; i < red.data.length; i++, at += channels) {
    const [r, g, b] = [0, 1, 2].map((c) => Math.max(LEAST_LIGHT, data[at + c]!)) as [number, number, number];
    red.data[i] = Math.log(r / g);
    blue.data[i] = Math.log(b / g);
  }
  const median = (plane: Image): Image => medianFilter(plane, textureRadius(image));
  return { bright: median(brightnessOf(image)), red: median(red), blue: median(blue) };
}

/** A picture no longer than so many texels. */
export function reduced(image: Image, side: number): Image {
  const size = sizeWithin(image, side);
  return isSameSize(size, image) ? image : resample(image, size, 'linear');
}

/** Natural logarithm of luminance. */
export function brightnessOf(image: Image): Image {
  const plane = luminance(image);
  return { ...plane, data: plane.data.map((value) => Math.log(Math.max(LEAST_LIGHT, value))) };
}
