import { z } from 'zod';
import type { Image } from '@zographos/core/image';

/** How samples of a picture travel: the length of a header, the header as JSON, padded to four bytes, then the floats. */

const header = z.object({
  width: z.int().positive(),
  height: z.int().positive(),
  channels: z.int().min(1).max(4),
  range: z.tuple([z.number(), z.number()]).optional(),
  colorSpace: z.enum(['srgb', 'linear']).optional(),
});

export function samplesBody({ data, width, height, channels, range, colorSpace }: Image): Uint8Array {
  const meaning = { width, height, channels, ...(range ? { range } : {}), ...(colorSpace ? { colorSpace } : {}) };
  const text = new TextEncoder().encode(JSON.stringify(meaning));
  const start = 4 + Math.ceil(text.length / 4) * 4;
  const body = new Uint8Array(start + data.byteLength);
  new DataView(body.buffer).setUint32(0, text.length, true);
  body.set(text, 4);
  body.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), start);
  return body;
}

/** @throws when the body is not what `samplesBody` makes */
export function readSamplesBody(body: ArrayBuffer): Image {
  const length = new DataView(body).getUint32(0, true);
  const { range, colorSpace, ...size } = header.parse(
    JSON.parse(new TextDecoder().decode(new Uint8Array(body, 4, length))),
  );
  const data = new Float32Array(body, 4 + Math.ceil(length / 4) * 4);
  return { ...size, data, ...(range ? { range } : {}), ...(colorSpace ? { colorSpace } : {}) };
}
