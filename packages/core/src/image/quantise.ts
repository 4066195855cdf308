/**
 * Rounds samples 0 to 1 to whole numbers 0 to 255 or 0 to 65535, half up; values outside are clamped and a
 * sample that is not a number becomes 0.
 */
export function quantise(data: Float32Array, bits: 8): Uint8Array;
export function quantise(data: Float32Array, bits: 16): Uint16Array;
export function quantise(data: Float32Array, bits: 8 | 16): Uint8Array | Uint16Array {
  const top = bits === 8 ? 255 : 65535;
  const result = bits === 8 ? new Uint8Array(data.length) : new Uint16Array(data.length);
  for (let i = 0; i < data.length; i++) {
    const value = data[i]! * top + 0.5;
    result[i] = value > 0 ? (value < top ? value : top) : 0;
  }
  return result;
}
