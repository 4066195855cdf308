/** Width and height of an image or a grid, in whole texels. */
export interface Size {
  width: number;
  height: number;
}
