/** Width and height of an image or a grid, in whole texels. */
export interface Size {
  width: number;
  height: number;
}

/**
 * The size with the same proportions whose longer side is no longer than so many texels; small ones stay as they are.
 * @param least no side is shorter
 * @example sizeWithin({ width: 4096, height: 1024 }, 512) // { width: 512, height: 128 }
 */
export function sizeWithin({ width, height }: Size, side: number, least = 1): Size {
  const scale = Math.min(1, side / Math.max(width, height));
  const length = (texels: number): number => Math.max(least, Math.round(texels * scale));
  return { width: length(width), height: length(height) };
}

export const isSameSize = (a: Size, b: Size): boolean => a.width === b.width && a.height === b.height;
