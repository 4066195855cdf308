import type { Image } from '@zographos/core/image';

export type LetterWeight = 400 | 700 | 900;

/** Height of capital letters in the image, in pixels: sharp on a decal of a quarter of a 4096 px map. */
const CAPITALS_PX = 256;
/** Wider lettering is drawn smaller. */
const WIDEST_PX = 8192;
/** Drawn in memory: nothing has to be waited for when it is read. */
const READ_BACK: CanvasRenderingContext2DSettings = { willReadFrequently: true };

/**
 * Lettering as a PNG file: white, with the letters as its alpha.
 * @param text may have several lines
 * @returns the file, and its height over its width
 */
export async function letteringFile(text: string, weight: LetterWeight): Promise<{ file: File; aspect: number }> {
  const canvas = await lettered(text, weight, CAPITALS_PX);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  const name = `${
    text
      .trim()
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim()
      .slice(0, 40) || 'letters'
  } lettering.png`;
  return { file: new File([blob ?? new Blob()], name, { type: 'image/png' }), aspect: canvas.height / canvas.width };
}

/** The same as samples, small: for a picture of what it would look like. */
export async function letteringImage(text: string, weight: LetterWeight): Promise<{ image: Image; aspect: number }> {
  const canvas = await lettered(text, weight, 32);
  const { width, height } = canvas;
  const { data: bytes } = canvas.getContext('2d', READ_BACK)!.getImageData(0, 0, width, height);
  const data = Float32Array.from(bytes, (value) => value / 255);
  return { image: { width, height, channels: 4, data }, aspect: height / width };
}

async function lettered(text: string, weight: LetterWeight, capitals: number): Promise<HTMLCanvasElement> {
  const lines = text.trim().split(/\r?\n/);
  const font = (size: number): string => `${weight} ${size}px "Commissioner Variable", sans-serif`;
  // The face is fetched on first use.
  await document.fonts.load(font(capitals), text);
  const canvas = document.createElement('canvas');
  const context = canvas.getContext('2d', READ_BACK)!;
  context.font = font(capitals);
  const widest = Math.max(1, ...lines.map((line) => context.measureText(line).width));
  const size = capitals * Math.min(1, WIDEST_PX / (widest + capitals * 0.4));
  const margin = size * 0.2;
  canvas.width = Math.ceil((widest * size) / capitals + 2 * margin);
  canvas.height = Math.ceil(size * 1.25 * lines.length + 2 * margin);
  context.font = font(size);
  context.fillStyle = '#ffffff';
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  lines.forEach((line, i) => {
    context.fillText(line, canvas.width / 2, margin + size * 1.25 * (i + 0.5));
  });
  return canvas;
}
