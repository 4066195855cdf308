/** What TIFF 6.0 calls a sample beyond red, green and blue (tag 338, ExtraSamples): unspecified data, or unassociated alpha. */
export const EXTRA_SAMPLES = { data: 0, alpha: 2 } as const;

const EXTRA_SAMPLES_TAG = 338;

/**
 * Says what the fourth channel of a TIFF is, in place. Libraries call every one of them alpha, and programs that take it
 * for that multiply colours by it.
 * @param bytes of a TIFF with four samples to a pixel and one directory
 * @throws RangeError for what is no such file: a fault of whoever made it
 */
export function withExtraSamples(bytes: Uint8Array, fourth: keyof typeof EXTRA_SAMPLES): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const isLittle = view.getUint16(0) === 0x4949;
  const directory = view.getUint32(4, isLittle);
  const fields = view.getUint16(directory, isLittle);
  for (let i = 0; i < fields; i++) {
    const field = directory + 2 + i * 12;
    if (view.getUint16(field, isLittle) !== EXTRA_SAMPLES_TAG) continue;
    view.setUint16(field + 8, EXTRA_SAMPLES[fourth], isLittle);
    return bytes;
  }
  throw new RangeError('The TIFF does not say what its fourth channel is.');
}
