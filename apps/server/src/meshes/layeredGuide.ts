import sharp from 'sharp';
import { screenByte } from '@zographos/core/color';
import { resample, type Image } from '@zographos/core/image';
import { guideDrawing, type GuideOptions, type GuidePart } from '@zographos/core/uv';
import { drawSvg, encodeOpenRaster, encodePsd, type PixelLayer } from '@zographos/formats/images';
import { GUIDE_PREFIX } from './guidePrefix.ts';

export type GuideFormat = 'png' | 'tif' | 'svg' | 'ora' | 'psd';

/** A map to paint over. */
export interface GuideMap {
  name: string;
  image: Image;
  /** Whether its samples are light, to be seen through the curve of sRGB. */
  isLight: boolean;
}

/**
 * A layout to be painted over in a paint program: maps lowest, islands in their colours, an empty layer to paint on, and
 * the edges of islands on top.
 */
export async function layeredGuide(
  parts: readonly GuidePart[],
  options: GuideOptions,
  format: 'ora' | 'psd',
  under: readonly GuideMap[],
): Promise<Uint8Array> {
  const { size } = options;
  const layers: PixelLayer[] = [
    ...under.map(({ name, image, isLight }, i) => ({
      name: `${GUIDE_PREFIX}${name}`,
      // The uppermost map is seen; those beneath it are there to be switched to.
      visible: i === under.length - 1,
      rgba: pixelsOf(image, isLight, size),
    })),
    {
      name: `${GUIDE_PREFIX}islands`,
      visible: under.length === 0,
      rgba: await rasterised(guideDrawing(parts, { ...options, fill: true, innerEdges: false, legend: false })),
    },
    { name: 'Paint here', visible: true, rgba: new Uint8ClampedArray(size.width * size.height * 4) },
    {
      name: `${GUIDE_PREFIX}edges`,
      visible: true,
      rgba: await rasterised(guideDrawing(parts, { ...options, fill: false, legend: false })),
    },
  ];
  if (format === 'psd') return encodePsd(size, layers);
  const written = [];
  for (const { name, visible, rgba } of layers) {
    const raw = { raw: { ...size, channels: 4 as const }, limitInputPixels: false };
    written.push({ name, visible, png: await sharp(rgba, raw).png({ compressionLevel: 3 }).toBuffer() });
  }
  return encodeOpenRaster(size, written);
}

async function rasterised(svg: string): Promise<Uint8ClampedArray> {
  const raw = await sharp(await drawSvg(svg, 'png'), { limitInputPixels: false })
    .ensureAlpha()
    .raw()
    .toBuffer();
  return new Uint8ClampedArray(raw.buffer, raw.byteOffset, raw.byteLength);
}

function pixelsOf(image: Image, isLight: boolean, size: GuideOptions['size']): Uint8ClampedArray {
  const { width, height } = size;
  const fits = image.width === width && image.height === height;
  const { data, channels } = fits ? image : resample(image, size, 'linear');
  const out = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let k = 0; k < 3; k++) {
      const value = data[i * channels + (channels > 2 ? k : 0)]!;
      out[i * 4 + k] = isLight ? screenByte(value) : value * 255;
    }
    out[i * 4 + 3] = 255;
  }
  return out;
}
