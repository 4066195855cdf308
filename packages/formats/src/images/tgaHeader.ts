/** What the header of a TGA file says (Truevision TGA 2.0). */
export interface TgaHeader {
  width: number;
  height: number;
}

const HEADER = 18;
/** Run-length coded image types: palette, colours, grey. */
const RUN_LENGTH = [9, 10, 11];

/**
 * Reads the header and walks over the packets of run-length coded files, for the loader takes what is not there for
 * black.
 * @throws RangeError where the file has fewer texels than it says
 */
export function readTgaHeader(bytes: Uint8Array): TgaHeader {
  if (bytes.length < HEADER) throw new RangeError('The header is cut off.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [width, height] = [view.getUint16(12, true), view.getUint16(14, true)];
  if (width < 1 || height < 1) throw new RangeError('The size is below one.');
  const palette = bytes[1] === 1 ? view.getUint16(5, true) * Math.ceil(bytes[7]! / 8) : 0;
  const texel = Math.ceil(bytes[16]! / 8);
  let at = HEADER + bytes[0]! + palette;
  if (!RUN_LENGTH.includes(bytes[2]!)) at += width * height * texel;
  else {
    for (let left = width * height; left > 0;) {
      const packet = bytes[at];
      if (packet === undefined) throw new RangeError('The packets end before the image does.');
      const count = (packet & 127) + 1;
      at += 1 + (packet >= 128 ? texel : count * texel);
      left -= count;
    }
  }
  if (at > bytes.length) throw new RangeError('The image is cut off.');
  return { width, height };
}
