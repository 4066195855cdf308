import sharp from 'sharp';

/** Draws an SVG as it says, with transparency, as PNG or TIFF. */
export async function drawSvg(svg: string, format: 'png' | 'tif'): Promise<Uint8Array> {
  const picture = sharp(new TextEncoder().encode(svg), { unlimited: true, limitInputPixels: false });
  return format === 'png' ? picture.png().toBuffer() : picture.tiff({ compression: 'deflate' }).toBuffer();
}
