import { quantised, type Image, type Rounding } from '@zographos/core/image';

/** Writes Truevision TGA 2.0, uncompressed 8 bits a channel, first row at the top. One, three or four channels. */
export function encodeTga(image: Image, rounding: Rounding = {}): Uint8Array {
  const { width, height, channels } = image;
  const samples = quantised(image, 8, rounding);
  const bytes = new Uint8Array(18 + samples.length + 26);
  const view = new DataView(bytes.buffer);
  bytes[2] = channels === 1 ? 3 : 2;
  view.setUint16(12, width, true);
  view.setUint16(14, height, true);
  bytes[16] = channels * 8;
  bytes[17] = 0x20 | (channels === 4 ? 8 : 0);
  for (let i = 0; i < samples.length; i += channels) {
    for (let c = 0; c < channels; c++) {
      // Colours are stored blue first; alpha and grey keep their place.
      const to = channels >= 3 && c < 3 ? 2 - c : c;
      bytes[18 + i + to] = samples[i + c]!;
    }
  }
  bytes.set(new TextEncoder().encode('TRUEVISION-XFILE.\0'), 18 + samples.length + 8);
  return bytes;
}
