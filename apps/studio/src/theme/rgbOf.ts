/** Any CSS colour as sRGB 0 to 1, read back from a canvas. */
export function rgbOf(color: string): [number, number, number] {
  const context = new OffscreenCanvas(1, 1).getContext('2d')!;
  context.fillStyle = color;
  context.fillRect(0, 0, 1, 1);
  const [r, g, b] = context.getImageData(0, 0, 1, 1).data;
  return [r! / 255, g! / 255, b! / 255];
}

/** A token of the theme as sRGB 0 to 1. */
export const tokenRgb = (token: string): [number, number, number] =>
  rgbOf(getComputedStyle(document.documentElement).getPropertyValue(token).trim());
