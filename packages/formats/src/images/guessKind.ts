import {
  describeKind,
  followsNormalSpace,
  GLTF_NORMAL,
  isColor,
  isDirection,
  MAP_KIND_IDS,
  wideKindOf,
  type ColorSpace,
  type Image,
  type ImagePacking,
  type MapConvention,
  type MapKind,
} from '@zographos/core/image';
import { guessPacking } from './guessPacking.ts';
import { wordsForKind, wordsOf } from './nameWords.ts';

export interface ImageGuess {
  kind: MapKind;
  colorSpace: ColorSpace;
  /** Of directions: the space and the sign of Y that they seem to have. */
  convention?: MapConvention;
  /** Where its name says that several maps share the file: what each channel holds. */
  packing?: ImagePacking;
  /** Why, in a few words, so that the artist can judge the guess. */
  reason: string;
}

/** How a map of a kind is stored by custom: colours through the sRGB curve, unless as floats, and data as it is. */
export const usualColorSpace = (kind: MapKind, isFloat: boolean): ColorSpace =>
  !isFloat && isColor(kind) ? 'srgb' : 'linear';

/**
 * Guesses what an image means from its name, else from its content: texels that are unit vectors make a
 * normal map, grey ones a mask, anything else a picture.
 * @param sample a reduced copy with stored values 0 to 1, one to four channels
 * @param isFloat true for formats that hold radiance or data as floats, which are never sRGB
 * @example guessKind('bell_bent_normal.png', sample, false).kind // 'bent'
 */
export function guessKind(name: string, sample: Image, isFloat: boolean): ImageGuess {
  const words = wordsOf(name);
  const packing = guessPacking(name, sample);
  if (packing) return guessOfPacked(packing, isFloat);
  const named = kindOfWords(words);
  const kind = named ?? kindOfContent(sample);
  const convention = isDirection(kind) ? guessDirections(kind, words, sample) : undefined;
  return {
    kind,
    colorSpace: usualColorSpace(kind, isFloat),
    ...(convention ? { convention } : {}),
    reason: named ? 'from its name' : 'from its content',
  };
}

/** A packed file is what its three colours are, if they are one map; else a picture of numbers. */
function guessOfPacked(packing: ImagePacking, isFloat: boolean): ImageGuess {
  const wide = wideKindOf(packing);
  return {
    kind: wide ?? 'image',
    colorSpace: wide ? usualColorSpace(wide, isFloat) : 'linear',
    ...(wide && isDirection(wide) ? { convention: { of: 'direction', ...GLTF_NORMAL } } : {}),
    packing,
    reason: 'from its name',
  };
}

/**
 * The kind that a name says: what is said last counts, for the map stands at the end of names (`metal_plate_normal`);
 * of words that end at the same place the longest (`bent_normal`).
 */
function kindOfWords(words: string): MapKind | null {
  let best: { kind: MapKind; end: number; length: number; isVague: boolean } | null = null;
  for (const kind of MAP_KIND_IDS) {
    const { isVague = false } = describeKind(kind);
    for (const word of wordsForKind(kind)) {
      const end = endOf(words, word);
      if (end < 0) continue;
      const found = { kind, end, length: word.length, isVague };
      if (!best || isBetter(found, best)) best = found;
    }
  }
  return best?.kind ?? null;
}

interface Found {
  end: number;
  length: number;
  isVague: boolean;
}

function isBetter(a: Found, b: Found): boolean {
  if (a.isVague !== b.isVague) return b.isVague;
  return a.end !== b.end ? a.end > b.end : a.length > b.length;
}

/** Where a word ends the last time it stands in a name by itself; −1 for never. */
function endOf(words: string, word: string): number {
  const at = `_${words}_`.lastIndexOf(`_${word}_`);
  return at < 0 ? -1 : at + word.length;
}

function kindOfContent({ channels, data }: Image): MapKind {
  if (channels < 3) return 'mask';
  let unit = 0;
  let grey = 0;
  const texels = data.length / channels;
  for (let i = 0; i < data.length; i += channels) {
    const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
    const length = Math.hypot(r * 2 - 1, g * 2 - 1, b * 2 - 1);
    if (Math.abs(length - 1) < 0.06 && b > 0.45) unit++;
    if (Math.max(r, g, b) - Math.min(r, g, b) < 0.012) grey++;
  }
  if (unit > texels * 0.9) return 'normal';
  return grey > texels * 0.99 ? 'mask' : 'image';
}

/** Words in names that say how directions are written (common practice, no source). */
const SAID: [RegExp, Partial<typeof GLTF_NORMAL>][] = [
  [/(^|_)(dx|directx|y_?down|ydn)(_|$)/, { y: 'down' }],
  [/(^|_)(gl|opengl|y_?up)(_|$)/, { y: 'up' }],
  [/(^|_)(object|objectspace|object_space|world)(_|$)/, { space: 'object' }],
];

/** How directions seem to be written: as the name says, else as the picture shows. */
function guessDirections(kind: MapKind, words: string, sample: Image): MapConvention {
  const said = Object.assign({}, ...SAID.filter(([pattern]) => pattern.test(words)).map(([, what]) => what)) as Partial<
    typeof GLTF_NORMAL
  >;
  const space = said.space ?? (followsNormalSpace(kind) && looksTangent(sample) ? 'tangent' : 'object');
  const y = said.y ?? (space === 'tangent' && slopesDisagree(sample) ? 'down' : 'up');
  return { of: 'direction', ...GLTF_NORMAL, space, y };
}

/** In tangent space hardly any direction points below the surface. */
function looksTangent({ channels, data }: Image): boolean {
  if (channels < 3) return true;
  let below = 0;
  for (let i = 0; i < data.length; i += channels) if (data[i + 2]! < 0.45) below++;
  return below <= (data.length / channels) * 0.02;
}

/** Evidence is taken as such from this correlation on. */
const CORRELATED = 0.2;

/**
 * Whether the slopes of a normal map fit together only if green is turned round. The slopes p and q of a surface obey
 * ∂p/∂y = ∂q/∂x (they are the gradient of one height); written with Y down, q has the other sign, and both sides
 * correlate negatively.
 */
function slopesDisagree({ width, height, channels, data }: Image): boolean {
  if (channels < 3) return false;
  const slope = (x: number, y: number, c: number): number => {
    const at = (y * width + x) * channels;
    return -(data[at + c]! * 2 - 1) / Math.max(0.1, data[at + 2]! * 2 - 1);
  };
  let [both, first, second] = [0, 0, 0];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      // Rows run downwards, Y upwards.
      const py = slope(x, y - 1, 0) - slope(x, y + 1, 0);
      const qx = slope(x + 1, y, 1) - slope(x - 1, y, 1);
      both += py * qx;
      first += py * py;
      second += qx * qx;
    }
  }
  return both < -CORRELATED * Math.sqrt(first * second) && first > 0 && second > 0;
}
