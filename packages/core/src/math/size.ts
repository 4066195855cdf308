/** Width and height of an image or a grid, in whole texels. */
export interface Size {
  width: number;
  height: number;
}

export const isSameSize = (a: Size, b: Size): boolean => a.width === b.width && a.height === b.height;
