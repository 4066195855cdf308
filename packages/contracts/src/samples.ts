import { z } from 'zod';
import { meaningOf, type Image } from '@zographos/core/image';
import { colorSpace, mapConvention, valueRange } from '@zographos/formats/meaning';

/** How samples of a picture travel: the length of a header, the header as JSON, padded to four bytes, then the floats. */

const header = z.object({
  width: z.int().positive(),
  height: z.int().positive(),
  channels: z.int().min(1).max(4),
  range: valueRange.optional(),
  colorSpace: colorSpace.optional(),
  convention: mapConvention.optional(),
});

export function samplesBody(image: Image): Uint8Array {
  const { data, width, height, channels } = image;
  const meaning = { width, height, channels, ...meaningOf(image) };
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
  const { width, height, channels, ...meaning } = header.parse(
    JSON.parse(new TextDecoder().decode(new Uint8Array(body, 4, length))),
  );
  const data = new Float32Array(body, 4 + Math.ceil(length / 4) * 4);
  return { width, height, channels, data, ...meaningOf(meaning) };
}
