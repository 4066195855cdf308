import { screenByte } from '@zographos/core/color';
import type { Image } from '@zographos/core/image';

/** An image as it looks: values stretched over their range, colours through the sRGB curve; r, g, b and a of each texel. */
export function screenPixels(image: Image): Uint8ClampedArray<ArrayBuffer> {
  const { width, height, colorSpace } = image;
  const rgba = new Uint8ClampedArray(width * height * 4);
  if (colorSpace === 'srgb') paintColors(image, rgba);
  else paintValues(image, rgba);
  return rgba;
}

/** Apart, and each in one loop: it is gone through with every move of a slider. */
function paintColors({ channels, data, range: [low, high] = [0, 1] }: Image, rgba: Uint8ClampedArray): void {
  const scale = 1 / (high - low || 1);
  const [green, blue] = channels < 3 ? [0, 0] : [1, 2];
  for (let i = 0, at = 0; i < rgba.length; i += 4, at += channels) {
    rgba[i] = screenByte((data[at]! - low) * scale);
    rgba[i + 1] = screenByte((data[at + green]! - low) * scale);
    rgba[i + 2] = screenByte((data[at + blue]! - low) * scale);
    rgba[i + 3] = 255;
  }
}

function paintValues({ channels, data, range: [low, high] = [0, 1] }: Image, rgba: Uint8ClampedArray): void {
  const scale = 255 / (high - low || 1);
  const [green, blue] = channels < 3 ? [0, 0] : [1, 2];
  for (let i = 0, at = 0; i < rgba.length; i += 4, at += channels) {
    rgba[i] = (data[at]! - low) * scale;
    rgba[i + 1] = (data[at + green]! - low) * scale;
    rgba[i + 2] = (data[at + blue]! - low) * scale;
    rgba[i + 3] = 255;
  }
}
