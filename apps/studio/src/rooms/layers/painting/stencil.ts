import { Matrix4, type Camera } from 'three';

/** Where a stencil lies over the view: its middle as shares of width and height, its width as a share of the height. */
export interface StencilFrame {
  x: number;
  y: number;
  size: number;
  /** In degrees, anticlockwise. */
  turn: number;
}

export const MIDDLE_FRAME: StencilFrame = { x: 0.5, y: 0.5, size: 0.5, turn: 0 };

/**
 * Rows that turn a place (x, y, z, 1) in millimetres into u · w, v · w and w of the stencil's image, v upwards.
 * @param aspect of the image, height over width
 * @param view width over height of the view
 * @param unit millimetres of one unit of the scene
 */
export function stencilRows(
  { x, y, size, turn }: StencilFrame,
  aspect: number,
  view: number,
  camera: Camera,
  unit: number,
): number[] {
  camera.updateMatrixWorld();
  const { elements: e } = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
  const row = (r: number): number[] => [e[r]! / unit, e[4 + r]! / unit, e[8 + r]! / unit, e[12 + r]!];
  const [cx, cy, w] = [row(0), row(1), row(3)];
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  // From the middle of the stencil, in heights of the view: to the right and up.
  const right = cx.map((value, i) => (value / 2 + w[i]! * (0.5 - x)) * view);
  const up = cy.map((value, i) => value / 2 - w[i]! * (0.5 - y));
  const u = right.map((value, i) => (value * cos + up[i]! * sin) / size + w[i]! * 0.5);
  const v = up.map((value, i) => (value * cos - right[i]! * sin) / (size * aspect) + w[i]! * 0.5);
  return [...u, ...v, ...w];
}
