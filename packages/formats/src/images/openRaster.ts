import { strToU8, zipSync, type Zippable } from 'fflate';
import type { Image } from '@zographos/core/image';
import { encodeImage, encodeThumbnail } from './encodeImage.ts';

/** Sides of the small copy that the format asks for. */
const THUMBNAIL = 256;

/**
 * Writes layers as OpenRaster: a ZIP whose first file, stored, names the format, then the stack, each layer as a PNG, and
 * the topmost visible layer as what the whole looks like.
 * @param layers from the bottom up, all of one size
 */
export async function encodeOpenRaster(layers: readonly { name: string; image: Image }[]): Promise<Uint8Array> {
  const { width, height } = layers[0]!.image;
  const files: Zippable = { mimetype: [strToU8('image/openraster'), { level: 0 }] };
  const entries: string[] = [];
  for (const [i, { name, image }] of layers.entries()) {
    const file = `data/layer${i}.png`;
    // PNGs are compressed already.
    files[file] = [await encodeImage(image, 'png16'), { level: 0 }];
    const visibility = i === layers.length - 1 ? 'visible' : 'hidden';
    // The stack is listed from the top down.
    entries.unshift(`    <layer name="${escaped(name)}" src="${file}" visibility="${visibility}"/>`);
  }
  const top = layers.at(-1)!.image;
  const stack = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<image version="0.0.3" w="${width}" h="${height}">`,
    '  <stack>',
    ...entries,
    '  </stack>',
    '</image>',
    '',
  ];
  files['stack.xml'] = strToU8(stack.join('\n'));
  files['mergedimage.png'] = [await encodeImage(top, 'png8'), { level: 0 }];
  files['Thumbnails/thumbnail.png'] = [await encodeThumbnail(top, THUMBNAIL), { level: 0 }];
  return zipSync(files);
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);
