import { XMLParser } from 'fast-xml-parser';
import { strFromU8, strToU8, unzipSync, zipSync, type Unzipped, type Zippable } from 'fflate';
import sharp from 'sharp';
import { ZographosError } from '@zographos/core/errors';
import { damagedArchive, sizeGuard } from '../../archive/sizeGuard.ts';
import type { FormatLimits } from '../../limits.ts';
import { blendNamed, type FileLayer, type LayeredFile, type SizeCheck } from './fileLayer.ts';

/** Sides of the small copy that the format asks for. */
const THUMBNAIL = 256;
/** What each pixel of a layer may take in the archive, with some for what else is in there. */
const MOST_BYTES_OF_A_PIXEL = 16;

/** A layer to be written; all are as large as the file. */
export interface WrittenLayer {
  name: string;
  visible: boolean;
  png: Uint8Array;
}

/**
 * Writes layers as OpenRaster: a ZIP whose first file, stored, names the format, then the stack, each layer as a PNG, and
 * what the whole looks like.
 * @param layers from the bottom up, all of one size
 */
export async function encodeOpenRaster(
  { width, height }: { width: number; height: number },
  layers: readonly WrittenLayer[],
): Promise<Uint8Array> {
  const files: Zippable = { mimetype: [strToU8('image/openraster'), { level: 0 }] };
  const entries: string[] = [];
  for (const [i, { name, png, visible }] of layers.entries()) {
    const file = `data/layer${i}.png`;
    // PNGs are compressed already.
    files[file] = [png, { level: 0 }];
    const visibility = visible ? 'visible' : 'hidden';
    // The stack is listed from the top down.
    entries.unshift(`    <layer name="${escaped(name)}" src="${file}" visibility="${visibility}"/>`);
  }
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
  const merged = await mergedImage(layers.filter(({ visible }) => visible).map(({ png }) => png));
  files['mergedimage.png'] = [merged, { level: 0 }];
  const small = sharp(merged, { limitInputPixels: false }).resize(THUMBNAIL, THUMBNAIL, { fit: 'inside' });
  files['Thumbnails/thumbnail.png'] = [await small.png().toBuffer(), { level: 0 }];
  return zipSync(files);
}

async function mergedImage([lowest, ...above]: Uint8Array[]): Promise<Uint8Array> {
  const ground = sharp(lowest, { limitInputPixels: false });
  const laid = above.length > 0 ? ground.composite(above.map((png) => ({ input: Buffer.from(png) }))) : ground;
  return laid.toColourspace('srgb').png().toBuffer();
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

/** An element of the stack's XML, in the order of the file. */
interface XmlElement {
  ':@'?: Record<string, string>;
  [tag: string]: XmlElement[] | Record<string, string> | undefined;
}

/** @throws input/unreadable-file for one that is damaged, limit/archive for one that unfolds to too much */
export async function readOpenRaster(
  name: string,
  bytes: Uint8Array,
  limits: FormatLimits,
  checkSize: SizeCheck,
): Promise<LayeredFile> {
  const guard = sizeGuard(name, limits.pixels * MOST_BYTES_OF_A_PIXEL);
  let files: Unzipped;
  try {
    files = unzipSync(bytes, {
      filter: (entry) => {
        if (entry.name !== 'stack.xml' && !entry.name.startsWith('data/')) return false;
        guard(entry);
        return true;
      },
    });
  } catch (error) {
    throw error instanceof ZographosError ? error : damagedArchive(name, error);
  }
  const xml = files['stack.xml'];
  if (!xml) throw damaged(name, 'it has no stack.xml');
  const parser = new XMLParser({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '' });
  const root = (parser.parse(strFromU8(xml)) as XmlElement[]).find((element) => 'image' in element);
  const [width, height] = [Number(root?.[':@']?.['w']), Number(root?.[':@']?.['h'])];
  if (!root || !(width > 0 && height > 0)) throw damaged(name, 'it does not say how large it is');
  const found: { attributes: Record<string, string>; path: string }[] = [];
  const notes: string[] = [];
  collect(root['image'] as XmlElement[], '');
  checkSize(width, height, found.length);
  const layers: FileLayer[] = [];
  for (const { attributes, path } of found.reverse()) {
    const png = files[attributes['src'] ?? ''];
    if (!png) {
      notes.push(`“${path}” is not in the file, and left out.`);
      continue;
    }
    const mode = (attributes['composite-op'] ?? 'svg:src-over').replace('svg:', '');
    const blend = blendNamed(mode);
    if (!blend) notes.push(`“${path}” blends by ${mode}, which is not known here; it lies plainly.`);
    layers.push({
      name: path,
      visible: attributes['visibility'] !== 'hidden',
      opacity: Math.max(0, Math.min(1, Number(attributes['opacity'] ?? 1))),
      blend: blend ?? 'normal',
      png: await onCanvas(png, width, height, Number(attributes['x'] ?? 0), Number(attributes['y'] ?? 0)),
    });
  }
  return { width, height, layers, notes };

  function collect(elements: readonly XmlElement[], group: string): void {
    for (const element of elements) {
      const attributes = element[':@'] ?? {};
      const title = `${group}${attributes['name'] ?? 'Layer'}`;
      if (Array.isArray(element['layer'])) found.push({ attributes, path: title });
      if (Array.isArray(element['stack'])) collect(element['stack'], attributes['name'] ? `${title} / ` : group);
    }
  }
}

/** An image laid somewhere on an empty canvas, which it may stand out of. */
async function onCanvas(png: Uint8Array, width: number, height: number, x: number, y: number): Promise<Uint8Array> {
  const image = sharp(png, { limitInputPixels: width * height * 4 }).ensureAlpha();
  const { width: wide, height: tall } = await image.metadata();
  if (x === 0 && y === 0 && wide === width && tall === height) return image.png().toBuffer();
  const [left, top] = [Math.max(0, x), Math.max(0, y)];
  const [cutX, cutY] = [Math.max(0, -x), Math.max(0, -y)];
  const [w, h] = [Math.min(wide - cutX, width - left), Math.min(tall - cutY, height - top)];
  const empty = { width, height, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } as const;
  const canvas = sharp({ create: empty });
  if (w <= 0 || h <= 0) return canvas.png().toBuffer();
  const cut = await image.extract({ left: cutX, top: cutY, width: w, height: h }).png().toBuffer();
  return canvas
    .composite([{ input: cut, left, top }])
    .png()
    .toBuffer();
}

const damaged = (name: string, why: string): ZographosError =>
  new ZographosError('input/unreadable-file', `“${name}” is no OpenRaster file: ${why}. Save it again as OpenRaster.`);
