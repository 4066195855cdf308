import { initializeCanvas, readPsd, writePsdUint8Array, type Layer, type PixelData, type Psd } from 'ag-psd';
import sharp from 'sharp';
import { ZographosError } from '@zographos/core/errors';
import { blendNamed, type FileLayer, type LayeredFile, type SizeCheck } from './fileLayer.ts';

// The library asks for pixels as a browser makes them; no canvas is ever drawn on.
initializeCanvas(
  () => {
    throw new Error('There is no canvas here.');
  },
  (width, height) => ({ width, height, colorSpace: 'srgb', data: new Uint8ClampedArray(width * height * 4) }),
);

/** A layer to be written, with its pixels as 8-bit RGBA; all are as large as the file. */
export interface PixelLayer {
  name: string;
  visible: boolean;
  rgba: Uint8ClampedArray;
}

/** Writes layers as a PSD of 8 bits (its published specification). @param layers from the bottom up */
export function encodePsd(
  { width, height }: { width: number; height: number },
  layers: readonly PixelLayer[],
): Uint8Array {
  const image = (data: Uint8ClampedArray): PixelData => ({ width, height, data });
  const children = layers.map(({ name, visible, rgba }): Layer => ({
    name,
    hidden: !visible,
    imageData: image(rgba),
    left: 0,
    top: 0,
  }));
  const psd: Psd = { width, height, children, imageData: image(merged(layers, width * height)) };
  return writePsdUint8Array(psd, { noBackground: true, trimImageData: true });
}

/** What visible layers look like, one over the other (Porter and Duff 1984). */
function merged(layers: readonly PixelLayer[], count: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(count * 4);
  for (const { rgba, visible } of layers) {
    if (!visible) continue;
    for (let i = 0; i < count * 4; i += 4) {
      const above = rgba[i + 3]! / 255;
      if (above === 0) continue;
      const below = (out[i + 3]! / 255) * (1 - above);
      const alpha = above + below;
      for (let k = i; k < i + 3; k++) out[k] = (rgba[k]! * above + out[k]! * below) / alpha;
      out[i + 3] = alpha * 255;
    }
  }
  return out;
}

/** @throws input/unreadable-file for one that is damaged, or in a mode or of a depth that cannot be read */
export async function readLayeredPsd(name: string, bytes: Uint8Array, checkSize: SizeCheck): Promise<LayeredFile> {
  const header = headerOf(name, bytes);
  checkSize(header.width, header.height, 0);
  let psd: Psd;
  try {
    psd = readPsd(bytes, {
      ...{ useImageData: true, skipCompositeImageData: true, skipThumbnail: true, skipLinkedFilesData: true },
      totalMemoryLimit: MEMORY_LIMIT,
    });
  } catch (error) {
    throw unreadable(name, 'it is damaged, larger than can be read, or of a kind unknown here', error);
  }
  const { width, height } = psd;
  const notes: string[] = [];
  const found: { layer: Layer; path: string; visible: boolean; opacity: number }[] = [];
  collect(psd.children ?? [], '', true, 1);
  checkSize(width, height, found.length);
  const layers: FileLayer[] = [];
  for (const { layer, path, visible, opacity } of found) {
    const mode = layer.blendMode ?? 'normal';
    const blend = blendNamed(mode);
    if (!blend) notes.push(`“${path}” blends by ${mode}, which is not known here; it lies plainly.`);
    if (layer.clipping) notes.push(`“${path}” is clipped to the layer beneath; here it lies everywhere.`);
    if (layer.effects) notes.push(`Effects of “${path}” are left out. Render them into the layer to keep them.`);
    const png = await layerPng(layer, width, height);
    if (png) layers.push({ name: path, visible, opacity, blend: blend ?? 'normal', png });
    else if (layer.adjustment) notes.push(`“${path}” is an adjustment, and left out; add one here instead.`);
    else notes.push(`“${path}” has no pixels, and is left out.`);
  }
  return { width, height, layers, notes };

  function collect(all: readonly Layer[], group: string, isShown: boolean, share: number): void {
    for (const layer of all) {
      const path = `${group}${layer.name ?? 'Layer'}`;
      const visible = isShown && !layer.hidden;
      const opacity = share * (layer.opacity ?? 1);
      if (layer.children) collect(layer.children, `${path} / `, visible, opacity);
      else found.push({ layer, path, visible, opacity });
    }
  }
}

/** Pixels of all layers together. */
const MEMORY_LIMIT = 3 * 2 ** 30;

/** Words of the modes that cannot be read, by their numbers in the header. */
const UNREAD_MODES: Readonly<Record<number, string>> = { 4: 'CMYK', 7: 'multichannel', 8: 'duotone', 9: 'Lab' };

function headerOf(name: string, bytes: Uint8Array): { width: number; height: number } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 26 || view.getUint32(0) !== 0x38425053) throw unreadable(name, 'it is no PSD');
  const mode = UNREAD_MODES[view.getUint16(24)];
  if (mode) throw unreadable(name, `its colours are ${mode}, and only RGB and grey are read`, null, 'as RGB');
  const bits = view.getUint16(22);
  if (bits > 16) throw unreadable(name, `it has ${bits} bits a channel`, null, 'with 8 or 16 bits');
  return { width: view.getUint32(18), height: view.getUint32(14) };
}

/** Its pixels on the canvas of the whole file, its mask counted in; null for none. */
async function layerPng(layer: Layer, width: number, height: number): Promise<Uint8Array | null> {
  const { imageData, left = 0, top = 0, mask } = layer;
  if (!imageData) return null;
  const is16 = imageData.data instanceof Uint16Array;
  const most = is16 ? 65535 : 255;
  const out = is16 ? new Uint16Array(width * height * 4) : new Uint8Array(width * height * 4);
  const shown = mask?.disabled ? undefined : mask?.imageData;
  for (let y = Math.max(0, -top); y < imageData.height && y + top < height; y++) {
    for (let x = Math.max(0, -left); x < imageData.width && x + left < width; x++) {
      const from = (y * imageData.width + x) * 4;
      const to = ((y + top) * width + x + left) * 4;
      for (let k = 0; k < 4; k++) out[to + k] = imageData.data[from + k]!;
      if (shown && mask) {
        const [mx, my] = [x + left - (mask.left ?? 0), y + top - (mask.top ?? 0)];
        const isIn = mx >= 0 && my >= 0 && mx < shown.width && my < shown.height;
        const share = isIn ? shown.data[(my * shown.width + mx) * 4]! / most : (mask.defaultColor ?? 0) / 255;
        out[to + 3]! *= share;
      }
    }
  }
  const picture = sharp(out, { raw: { width, height, channels: 4 }, limitInputPixels: false });
  return (is16 ? picture.toColourspace('rgb16') : picture).png().toBuffer();
}

const unreadable = (name: string, why: string, cause?: unknown, how = 'as OpenRaster'): ZographosError =>
  new ZographosError('input/unreadable-file', `“${name}” cannot be read: ${why}. Save it ${how}.`, { cause });
