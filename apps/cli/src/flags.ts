import { ZographosError } from '@zographos/core/errors';
import { parseBackground } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import { IMAGE_FORMAT_NAMES, type ImageFormat } from '@zographos/formats/images';

/** Flags of the command line as settings. All of them throw input/bad-settings for what cannot be meant. */

export function required(value: string | undefined, flag: string): string {
  if (value) return value;
  throw new ZographosError('input/bad-settings', `The flag --${flag} is missing. See --help for all flags.`);
}

/** @throws input/bad-settings for a word that is none of those known */
export function oneOf<Word extends string>(flag: string, text: string, words: readonly Word[]): Word {
  const word = words.find((each) => each === text);
  if (word) return word;
  const known = `${words.slice(0, -1).join(', ')} or ${words.at(-1)!}`;
  throw new ZographosError('input/bad-settings', `--${flag} takes ${known}, not “${text}”.`);
}

/** @throws input/bad-settings for a format that is not known */
export function parseFormat(name: string): ImageFormat {
  const format = IMAGE_FORMAT_NAMES.find((known) => known === name);
  if (format) return format;
  throw new ZographosError(
    'input/bad-settings',
    `There is no format “${name}”. Choose one of: ${IMAGE_FORMAT_NAMES.join(', ')}.`,
  );
}

export function parseSize(text: string): { width: number; height: number } {
  const match = /^(\d+)(?:x(\d+))?$/.exec(text);
  if (!match) throw new ZographosError('input/bad-settings', `“${text}” is not a size. Write 1024 or 2048x1024.`);
  const width = Number(match[1]);
  return { width, height: Number(match[2] ?? width) };
}

export function parseReach(reach: string | undefined, out: string | undefined, into: string | undefined): unknown {
  if (reach !== undefined && reach !== 'auto' && reach !== 'fitted') {
    throw new ZographosError(
      'input/bad-settings',
      `--reach takes “auto” or “fitted”. Give lengths with --reach-out and --reach-in.`,
    );
  }
  if (out === undefined && into === undefined) return reach ?? 'auto';
  if (reach !== undefined) {
    throw new ZographosError('input/bad-settings', 'Give either --reach, or --reach-out and --reach-in.');
  }
  return { out: length(required(out, 'reach-out'), 'reach-out'), in: length(required(into, 'reach-in'), 'reach-in') };
}

export function lengthOr<Word extends string>(word: Word, text: string | undefined, flag: string): number | Word {
  return text === undefined || text === word ? word : length(text, flag);
}

function length(text: string, flag: string): number {
  const value = Number(text);
  if (Number.isFinite(value) && value >= 0) return value;
  throw new ZographosError('input/bad-settings', `--${flag} takes a length in mesh units of 0 or more, not “${text}”.`);
}

/** A share from 0 to 1. */
export function fraction(flag: string, text: string): number {
  const value = Number(text);
  if (text !== '' && Number.isFinite(value) && value >= 0 && value <= 1) return value;
  throw new ZographosError('input/bad-settings', `--${flag} takes a number from 0 to 1, not “${text}”.`);
}

export function positive(text: string, flag: string): number {
  const value = Number(text);
  if (Number.isInteger(value) && value > 0 && value <= 256) return value;
  throw new ZographosError('input/bad-settings', `--${flag} takes a whole number from 1 to 256, not “${text}”.`);
}

/** Whether files carry tile numbers: where tiles were asked for. */
export const namesTiles = (tiles: 'all' | readonly number[]): boolean =>
  !(tiles.length === 1 && tiles[0] === FIRST_TILE);

/** `all`, or tile numbers separated by commas. */
export function parseTiles(text: string | undefined): 'all' | number[] {
  if (text === undefined) return [FIRST_TILE];
  return text === 'all' ? 'all' : text.split(',').map(Number);
}

/** Sizes of single tiles: 1002=2048 or 1002=2048x1024. */
export function parseTileSizes(entries: readonly string[]): Record<string, { width: number; height: number }> {
  return Object.fromEntries(
    entries.map((entry) => {
      const [tile = '', size = ''] = entry.split('=');
      return [tile, parseSize(size)];
    }),
  );
}

/** x, y, z, or three numbers separated by commas. */
export function parseDirection(text: string): number[] {
  const axis = ['x', 'y', 'z'].indexOf(text);
  if (axis >= 0) return [0, 1, 2].map((k) => (k === axis ? 1 : 0));
  return text.split(',').map(Number);
}

/** A pattern: square:4x4, staggered:4x6 or hexagonal:5; rows follow from columns unless they are said. */
export function parseRepeat(text: string | undefined): unknown {
  if (text === undefined || text === 'none') return 'none';
  const match = /^(\w+):(\d+)(?:x(\d+))?$/.exec(text);
  if (!match) {
    throw new ZographosError(
      'input/bad-settings',
      `“${text}” is not a pattern. Write square:4x4, staggered:4x6 or hexagonal:5.`,
    );
  }
  const columns = Number(match[2]);
  return { grid: match[1], columns, rows: match[3] ? Number(match[3]) : 'follow' };
}

/** own, all, or names separated by commas. */
export const parseOccluders = (text: string): string | string[] =>
  text === 'own' || text === 'all' ? text : text.split(',');

/** How maps are written, for every command that writes them. */
/** A spacing: texels, or a share of the tile's width written as “0.5%”. @example parseSpacing('0.5%') // { share: 0.005 } */
export const parseSpacing = (text: string): number | { share: number } =>
  text.endsWith('%') ? { share: Number(text.slice(0, -1)) / 100 } : Number(text);

export const WRITING_FLAGS = {
  alpha: { type: 'boolean', default: false },
  background: { type: 'string' },
  dither: { type: 'boolean', default: false },
  format: { type: 'string' },
} as const;

/** What those flags mean, as lines of a help text. @param usual the format where none is said */
export const writingHelp = (usual: ImageFormat): string => `  --alpha              UV coverage in alpha
  --background COLOUR  background beyond the padding: #rrggbb, black, white (neutral)
  --dither             dither whole numbers
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                                           (${usual})
`;

/** @throws input/bad-settings for a format or a colour that is none */
export const writingOf = (
  values: { alpha: boolean; background?: string | undefined; dither: boolean; format?: string | undefined },
  usual: ImageFormat,
) => ({
  format: parseFormat(values.format ?? usual),
  dither: values.dither,
  exporting: { alpha: values.alpha, background: parseBackground(values.background ?? 'neutral') },
});
