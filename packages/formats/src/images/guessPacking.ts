import {
  describeKind,
  isCategory,
  isColor,
  isDirection,
  kindsOfPacking,
  type Image,
  type ImagePacking,
  type MapKind,
  type PackedContent,
} from '@zographos/core/image';
import { INVERTED_WORDS, KIND_OF_WORDS, PACKED_LETTERS, SAYS_NOTHING, wordsOf } from './nameWords.ts';

/** What the letters of acronyms stand for. */
const LETTERS: Record<string, MapKind> = { ao: 'ao', o: 'ao', a: 'ao', r: 'roughness', m: 'metallic', h: 'height' };
/** Acronyms that are words as well, so that the picture has to look like it. */
const WORDS = new Set(['arm', 'ram', 'mar', 'mor', 'rom']);

/**
 * What each channel of a file holds, as its name says: acronyms as ORM, ARM, RMA or MRAO, the names of several maps in
 * the order of the channels, or a colour or normal map with another in its alpha. Roughness and metallic without a third
 * lie in green and blue (glTF 2.0, pbrMetallicRoughness.metallicRoughnessTexture); the rest is common practice, no source.
 * A picture whose channels are all alike is not packed, whatever its name says.
 * @param sample a reduced copy with stored values 0 to 1
 * @returns one entry for each channel, null where the name says nothing of several maps
 * @example guessPacking('bollard_ORM.png', sample)?.[1] // { map: 'roughness', channel: 0, invert: false }
 */
export function guessPacking(name: string, sample: Image): ImagePacking | null {
  if (sample.channels < 3 || isGrey(sample)) return null;
  const tokens = wordsOf(name).split('_').filter(Boolean);
  while (SAYS_NOTHING.has(tokens.at(-1) ?? '')) tokens.pop();
  const last = tokens.at(-1) ?? '';
  if (PACKED_LETTERS.test(last)) {
    const contents = (last.match(/ao|./g) ?? []).map((letter) => whole(LETTERS[letter]!));
    if (!isEachOnce(contents) || (WORDS.has(last) && channelsAgree(sample))) return null;
    return withChannels(contents, sample.channels);
  }
  const contents = namedMaps(tokens);
  return contents.length > 1 && isEachOnce(contents) ? placed(contents, sample.channels) : null;
}

/**
 * A name for a packed file that says what it holds, and is understood by `guessPacking`.
 * @example nameOfPacking(ORM) // 'ao-roughness-metallic'
 */
export const nameOfPacking = (packing: ImagePacking): string =>
  kindsOfPacking(packing)
    .map((kind) => {
      const isTurned = packing.some((content) => content?.map === kind && content.invert);
      return isTurned && kind === 'roughness' ? 'smoothness' : kind;
    })
    .join('-');

const whole = (map: MapKind, invert = false): PackedContent => ({ map, channel: 0, invert });

const isEachOnce = (contents: readonly PackedContent[]): boolean =>
  new Set(contents.map(({ map }) => map)).size === contents.length;

/** The maps that the last words of a name are, in its order. */
function namedMaps(tokens: readonly string[]): PackedContent[] {
  const contents: PackedContent[] = [];
  let end = tokens.length;
  while (end > 0) {
    // The longest words that end here.
    const start = Array.from({ length: Math.min(3, end) }, (_, i) => end - Math.min(3, end) + i).find(
      (from) => contentNamed(tokens.slice(from, end)) !== null,
    );
    if (start === undefined) break;
    contents.unshift(contentNamed(tokens.slice(start, end))!);
    end = start;
  }
  return contents;
}

function contentNamed(words: readonly string[]): PackedContent | null {
  const text = words.join('_');
  const turned = INVERTED_WORDS.get(text);
  if (turned) return whole(turned, true);
  const kind = KIND_OF_WORDS.get(text);
  if (!kind || describeKind(kind).isVague) return null;
  return isCategory(kind) || describeKind(kind).values === 'coordinate' ? null : whole(kind);
}

/** Where some maps lie in a file of so many channels; null where they cannot all be in it. */
function placed(contents: readonly PackedContent[], channels: number): ImagePacking | null {
  const [first, second] = contents;
  const isWide = ({ map }: PackedContent): boolean => isColor(map) || isDirection(map);
  if (contents.slice(1).some(isWide)) return null;
  if (isWide(first!)) {
    if (contents.length !== 2 || channels !== 4) return null;
    return [...[0, 1, 2].map((channel) => ({ ...first!, channel })), second!];
  }
  const maps = contents.map(({ map }) => map);
  if (contents.length === 2 && maps.includes('roughness') && maps.includes('metallic')) {
    const roughness = contents.find(({ map }) => map === 'roughness')!;
    if (!roughness.invert) return withChannels([null, roughness, whole('metallic')], channels);
    // Smoothness beside metallic lies in the alpha.
    return channels === 4 ? [whole('metallic'), null, null, roughness] : null;
  }
  return withChannels(contents, channels);
}

function withChannels(contents: readonly (PackedContent | null)[], channels: number): ImagePacking | null {
  if (contents.length > channels) return null;
  return Array.from({ length: channels }, (_, c) => contents[c] ?? null);
}

function isGrey({ channels, data }: Image): boolean {
  let grey = 0;
  for (let i = 0; i < data.length; i += channels) {
    const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
    if (Math.max(r, g, b) - Math.min(r, g, b) < 0.012) grey++;
  }
  return grey > (data.length / channels) * 0.99;
}

/** Colours of one surface vary together; maps that share a file do not, or one of them is the same all over. */
const TOGETHER = 0.7;

function channelsAgree({ channels, data }: Image): boolean {
  const texels = data.length / channels;
  const mean = [0, 0, 0];
  for (let i = 0; i < data.length; i += channels) for (let c = 0; c < 3; c++) mean[c]! += data[i + c]! / texels;
  const moment = [0, 1, 2].map(() => [0, 0, 0]);
  for (let i = 0; i < data.length; i += channels) {
    for (let a = 0; a < 3; a++) {
      for (let b = a; b < 3; b++) moment[a]![b]! += (data[i + a]! - mean[a]!) * (data[i + b]! - mean[b]!);
    }
  }
  return (
    [
      [0, 1],
      [1, 2],
      [0, 2],
    ] as const
  ).every(([a, b]) => moment[a]![b]! > TOGETHER * Math.sqrt(moment[a]![a]! * moment[b]![b]!));
}
