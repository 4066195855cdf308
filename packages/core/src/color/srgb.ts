/** The sRGB transfer functions of IEC 61966-2-1, for values 0 to 1. */

export function linearToSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

export function srgbToLinear(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

/** Steps between which both curves are as good as straight: what is off is less than a float can tell of values near 1. */
const TABLE = 1 << 16;
const tableOf = (curve: (value: number) => number): Float64Array =>
  Float64Array.from({ length: TABLE + 2 }, (_, i) => curve(i / TABLE));
let [encoded, decoded]: (Float64Array | null)[] = [null, null];

/** `linearToSrgb` for whole pictures, from a table: off by less than 1e-6. */
export function quickLinearToSrgb(linear: number): number {
  encoded ??= tableOf(linearToSrgb);
  return linear >= 0 && linear <= 1 ? between(encoded, linear) : linearToSrgb(linear);
}

/** `srgbToLinear` for whole pictures, from a table: off by less than 1e-6. */
export function quickSrgbToLinear(screen: number): number {
  decoded ??= tableOf(srgbToLinear);
  return screen >= 0 && screen <= 1 ? between(decoded, screen) : srgbToLinear(screen);
}

function between(table: Float64Array, value: number): number {
  const place = value * TABLE;
  const low = place | 0;
  return table[low]! + (table[low + 1]! - table[low]!) * (place - low);
}

const STEPS = 8192;
/** Eight bits through the sRGB curve for light in even steps, each at its middle. */
let screenBytes: Uint8Array | null = null;

/**
 * Light as a byte on screen, quickly: off by one at most in the darkest tenth of a per cent. For pictures to look at;
 * files are written by `quantise`.
 */
export function screenByte(linear: number): number {
  screenBytes ??= Uint8Array.from({ length: STEPS + 1 }, (_, i) => Math.round(255 * linearToSrgb(i / STEPS)));
  if (!(linear > 0)) return 0;
  return linear >= 1 ? 255 : screenBytes[(linear * STEPS + 0.5) | 0]!;
}
