import { describeKind, MAP_KIND_IDS, type MapKind } from '@zographos/core/image';

/** The words of a file name in lower case, joined by underscores: `Bell-ambientOcclusion 02.png` → `bell_ambient_occlusion`. */
export const wordsOf = (name: string): string =>
  name
    .replace(/\.[^.]*$/, '')
    .replace(/([a-z])([A-Z])/g, '$1_$2')
    .toLowerCase()
    .replace(/[^a-z]+/g, '_');

/** The words that mean a kind of map, its id among them. */
export const wordsForKind = (kind: MapKind): readonly string[] => [kind, ...describeKind(kind).words];

/** The kinds that some words mean, by those words. */
export const KIND_OF_WORDS: ReadonlyMap<string, MapKind> = new Map(
  // The first of the table wins, as the last entry of a map does.
  [...MAP_KIND_IDS].reverse().flatMap((kind) => wordsForKind(kind).map((words): [string, MapKind] => [words, kind])),
);

/** Words that stand for a map turned round (common practice, no source). */
export const INVERTED_WORDS: ReadonlyMap<string, MapKind> = new Map([
  ['smoothness', 'roughness'],
  ['smooth', 'roughness'],
  ['gloss', 'roughness'],
  ['glossiness', 'roughness'],
]);

/**
 * Occlusion, roughness and metallic by their letters in any order, perhaps with the height behind, as ORM, ARM, RMA or
 * MRAO (common practice, no source).
 */
export const PACKED_LETTERS = /^(?=.*r)(?=.*m)(?=.*(?:o|a))(?:ao|o|a|r|m){3}h?$/;

/** Words behind what a file holds that say nothing of it: sizes, and what it is anyway. */
export const SAYS_NOTHING: ReadonlySet<string> = new Set(
  ['k', 'px', 'map', 'packed', 'tex', 'texture', 'udim', 'v', 'gl', 'dx', 'opengl', 'directx'].concat([
    'mask',
    'masks',
  ]),
);

/** What a name says beside what kind of map it is. */
export interface NameParts {
  /** What all maps of a set are called, with their folder; empty where a name is that of a map alone. */
  stem: string;
  /** The UDIM tile that it ends in. */
  tile: number | null;
  /** Whether the name says a kind of map at all. */
  hasKind: boolean;
}

/** Words, running numbers and single capitals, as `BollardRMA 02` is `Bollard`, `RMA` and `02`. */
const TOKEN = /[A-Z]?[a-z]+|[A-Z]+(?![a-z])|\d+/g;
const TILE = /^(1\d{3}|2000)$/;
const SIZE = /^(\d|16|512|1024|2048|4096|8192)$/;

/**
 * Parts a name of a map into what its set is called and the rest.
 * @param name with its folder, without its ending
 * @param isPacked whether several kinds of maps may stand at its end
 * @example partsOfName('quay/Bollard_normal_gl.1002', false) // { stem: 'quay/Bollard', tile: 1002, hasKind: true }
 */
export function partsOfName(name: string, isPacked: boolean): NameParts {
  const folder = name.slice(0, name.lastIndexOf('/') + 1);
  const base = name.slice(folder.length);
  const tokens = [...base.matchAll(TOKEN)].map((match) => ({ text: match[0], end: match.index + match[0].length }));
  let kept = tokens.length;
  let tile: number | null = null;
  let hasKind = false;
  while (kept > 0) {
    const { text } = tokens[kept - 1]!;
    const word = text.toLowerCase();
    if (!hasKind && tile === null && TILE.test(text)) {
      tile = Number(text);
      kept--;
    } else if (
      !hasKind &&
      (SAYS_NOTHING.has(word) || (SIZE.test(text) && kept === tokens.length - sizeWords(tokens)))
    ) {
      kept--;
    } else {
      const taken =
        hasKind && !isPacked ? 0 : wordsOfKind(tokens.slice(0, kept).map((token) => token.text.toLowerCase()));
      if (taken === 0) break;
      hasKind = true;
      kept -= taken;
    }
  }
  if (!hasKind) return { stem: folder + base, tile: null, hasKind };
  return { stem: folder + (kept > 0 ? base.slice(0, tokens[kept - 1]!.end) : ''), tile, hasKind };
}

/** How many words stand behind the number of a size: one for “4k”. */
const sizeWords = (tokens: readonly { text: string }[]): number => (tokens.at(-1)?.text.toLowerCase() === 'k' ? 1 : 0);

/** How many of the last words are one kind of map, or letters that stand for several. */
function wordsOfKind(words: readonly string[]): number {
  for (const length of [3, 2, 1]) {
    if (length > words.length) continue;
    const text = words.slice(-length).join('_');
    if (KIND_OF_WORDS.has(text) || INVERTED_WORDS.has(text)) return length;
  }
  return PACKED_LETTERS.test(words.at(-1) ?? '') ? 1 : 0;
}
