import path from 'node:path';
import { mkdir, readdir, readFile } from 'node:fs/promises';
import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import {
  exported,
  isColor,
  isMapKind,
  kindsOfPacking,
  MAP_KIND_IDS,
  packChannels,
  TexelState,
  unpackMap,
  withNeededRange,
  type ChannelSource,
  type ExportOptions,
  type Image,
  type ImageMeaning,
  type ImagePacking,
  type MapKind,
} from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import {
  alphaOf,
  colorSpace,
  encodeImage,
  formatFor,
  holdsFloats,
  imagePacking,
  IMAGE_ENDINGS,
  IMAGE_FORMATS,
  isFloatFormat,
  limitsFrom,
  mapConvention,
  nameOfPacking,
  valueRange,
  type EncodeOptions,
  type ImageFormat,
} from '@zographos/formats/images';
import { asMeantBy } from '@zographos/operations/preview';
import type { RunSet } from '@zographos/operations/run-context';
import { readOnThread } from './readOnThread.ts';
import { writeWhole } from './writeWhole.ts';

/** What a map in a folder is, as `report.json` beside it says. */
const mapFile = z.object({
  file: z.string(),
  kind: z.enum(MAP_KIND_IDS),
  tile: z.int(),
  /** Of whole numbers: `srgb` through its curve, else numbers as they are. */
  colorSpace,
  /** The values that are black and white; of float files, what they are shown between. */
  range: valueRange,
  convention: mapConvention.optional(),
  /** What its channels hold, where several maps share it. */
  packing: imagePacking.optional(),
});

export type MapFile = z.infer<typeof mapFile>;

/** What any report of a folder has, whatever it is a report of. */
const folderReport = z.looseObject({ maps: z.array(mapFile).default([]) });

export interface WriteOptions {
  /** Of all maps, or of each kind. */
  format: ImageFormat | ((kind: MapKind) => ImageFormat);
  exporting?: ExportOptions;
  dither?: boolean;
  /** Whether tile numbers stand in names, as where tiles were asked for. */
  namesTiles?: boolean;
}

/** Writes a map into a folder, which is made if it is not there. @returns what it is, for the folder's report */
export async function writeMap(
  folder: string,
  { kind, tile, image, states }: { kind: MapKind; tile: number; image: Image; states: Uint8Array },
  { format: wanted, exporting = {}, dither = false, namesTiles = false }: WriteOptions,
): Promise<MapFile> {
  const format = formatFor(kind, typeof wanted === 'function' ? wanted(kind) : wanted);
  const file = `${kind}${namesTiles ? `.${tile}` : ''}.${IMAGE_FORMATS[format].ending}`;
  await mkdir(folder, { recursive: true });
  await writeWhole(path.join(folder, file), await encodeImage(exported(image, states, exporting), format, { dither }));
  return { file, kind, tile, ...meaningInFile(image, format) };
}

/** Writes one image into a file, whose folder is made if it is not there. */
export async function writeImage(
  file: string,
  image: Image,
  format: ImageFormat,
  options: EncodeOptions = {},
): Promise<void> {
  await mkdir(path.dirname(path.resolve(file)), { recursive: true });
  await writeWhole(file, await encodeImage(image, format, options));
}

/**
 * Writes maps that share a file. Colours keep their curve, lengths are stretched over their range.
 * @param maps by kind, each that the packing names
 * @returns what the file is, for the folder's report
 */
export async function writePacked(
  folder: string,
  packing: ImagePacking,
  maps: ReadonlyMap<MapKind, Image>,
  format: ImageFormat,
): Promise<MapFile> {
  const sources = packing.map((content): ChannelSource => {
    if (!content) return { constant: 0 };
    const image = maps.get(content.map)!;
    return { image, channel: content.channel, invert: content.invert, levels: image.range ?? [0, 1] };
  });
  const space = kindsOfPacking(packing).some(isColor) ? 'srgb' : 'linear';
  const image: Image = { ...packChannels(sources), colorSpace: space };
  const file = `${nameOfPacking(packing)}.${IMAGE_FORMATS[format].ending}`;
  await writeImage(path.join(folder, file), image, format, alphaOf(packing[3]?.map));
  return { file, kind: 'image', tile: FIRST_TILE, ...meaningInFile(image, format), packing };
}

/** How a map is meant as it stands in a file. */
export function meaningInFile(
  { range = [0, 1], colorSpace: space = 'linear', convention }: ImageMeaning,
  format: ImageFormat,
): Pick<MapFile, 'colorSpace' | 'range' | 'convention'> {
  return {
    colorSpace: isFloatFormat(format) ? 'linear' : space,
    range,
    ...(convention ? { convention } : {}),
  };
}

/** Writes the report of a folder: whatever there is to say, and what each map in it is. */
export async function writeReport(folder: string, maps: readonly MapFile[], report: object = {}): Promise<void> {
  await mkdir(folder, { recursive: true });
  await writeWhole(path.join(folder, 'report.json'), `${JSON.stringify({ ...report, maps }, null, 2)}\n`);
}

/** A map that was read from a folder, as it is meant: colours as light. */
export interface FolderMap {
  image: Image;
  /** Of each sample in its file: 8 or 16, or 32 for floats of any size. */
  bits: number;
}

/** The maps of one set in a folder. */
export interface ImageSet {
  name: string;
  maps: Map<MapKind, FolderMap>;
  /** How those that shared a file did so. */
  packings: ImagePacking[];
  width: number;
  height: number;
}

/** The format that loses nothing of so many bits. */
export function asDeepAs(bits: readonly number[]): ImageFormat {
  const deepest = Math.max(...bits);
  if (deepest <= 8) return 'png8';
  return deepest <= 16 ? 'png16' : 'exr';
}

/**
 * Reads the maps of a set: as `report.json` says, else by their names.
 * @throws missing/not-found, input/bad-settings for a folder without maps, or with maps of several sizes
 */
export async function readSet(folder: string, tile = FIRST_TILE): Promise<ImageSet> {
  const names = await readdir(folder).catch(() => {
    throw new ZographosError('missing/not-found', `There is no folder “${folder}”. Check the path.`);
  });
  const limits = limitsFrom(process.env);
  const said = await readReport(folder);
  const set: ImageSet = {
    name: path.basename(path.resolve(folder)),
    maps: new Map(),
    packings: [],
    width: 0,
    height: 0,
  };
  for (const name of names.sort()) {
    if (!IMAGE_ENDINGS.includes(path.extname(name).slice(1).toLowerCase())) continue;
    const bytes = await readFile(path.join(folder, name));
    const inspection = await readOnThread({ kind: 'inspection', name, bytes, limits });
    const known = said.find(({ file }) => file === name) ?? guessed(name, inspection.guess);
    // Other pictures that lie there, such as a likeness, are no maps of the set.
    if (!known || known.tile !== tile) continue;
    const image = await readOnThread({ kind: 'image', name, bytes, limits });
    if (set.maps.size > 0 && (image.width !== set.width || image.height !== set.height)) {
      throw new ZographosError(
        'input/bad-settings',
        `“${name}” of “${set.name}” is ${image.width} × ${image.height} px, the maps before it ${set.width} × ${set.height}. Give all maps of a set one size.`,
      );
    }
    Object.assign(set, { width: image.width, height: image.height });
    // Halves are floats too: their values are what they are, whatever their range.
    const bits = holdsFloats(inspection) ? 32 : inspection.bits;
    for (const [kind, map] of mapsIn(image, known, bits)) set.maps.set(kind, { image: map, bits });
    if (known.packing) set.packings.push(known.packing);
  }
  if (set.maps.size > 0) return set;
  throw new ZographosError(
    'input/bad-settings',
    `“${folder}” has no maps that can be told by their names. Name them by their kinds: ${MAP_KIND_IDS.slice(0, 5).join(', ')} …`,
  );
}

type Known = Pick<MapFile, 'kind' | 'tile' | 'colorSpace' | 'convention' | 'packing'> & { range?: MapFile['range'] };

/** What a name alone says; null where it says nothing. */
function guessed(name: string, guess: Omit<Known, 'tile'> & { reason: string }): Known | null {
  const { name: stem } = path.parse(name);
  // A name may carry the number of its tile, as those that the command line writes do.
  const [, kind = stem, number] = /^(.*)\.(1\d{3}|2000)$/.exec(stem) ?? [];
  const tile = number === undefined ? FIRST_TILE : Number(number);
  if (isMapKind(kind)) return { ...guess, kind, tile };
  return guess.reason === 'from its name' ? { ...guess, tile } : null;
}

/** The maps that a file holds: one, or those that share its channels. */
function mapsIn(image: Image, { packing, ...known }: Known, bits: number): [MapKind, Image][] {
  if (!packing) return [[known.kind, meant(image, known, bits)]];
  return kindsOfPacking(packing).map((kind) => {
    const own = unpackMap(image, packing, kind);
    // The colours of the file are what it is as a whole; its single channels are numbers.
    return [
      kind,
      kind === known.kind
        ? meant(own, known, bits)
        : meant(own, { kind, tile: known.tile, colorSpace: 'linear' }, bits),
    ];
  });
}

/** Floats hold values as they are, whatever whole numbers could; whole numbers are stretched over their range again. */
function meant(image: Image, { kind, range, colorSpace: space, convention }: Known, bits: number): Image {
  const isWhole = !range || (range[0] === 0 && range[1] === 1);
  const known = { colorSpace: space, ...(convention ? { convention } : {}) };
  if (bits < 32) return asMeantBy({ ...known, ...(isWhole ? {} : { range }) }, image);
  const floats = asMeantBy(known, image);
  return isWhole ? withNeededRange(kind, floats) : { ...floats, range };
}

/** What the report of a folder says of its maps; nothing where there is none. @throws input/unreadable-file */
async function readReport(folder: string): Promise<MapFile[]> {
  const text = await readFile(path.join(folder, 'report.json'), 'utf8').catch(() => null);
  if (text === null) return [];
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw unreadable(folder, 'it is not JSON');
  }
  const parsed = folderReport.safeParse(json);
  if (parsed.success) return parsed.data.maps;
  const issue = parsed.error.issues[0]!;
  throw unreadable(folder, `“${issue.path.join('.')}”: ${issue.message}`);
}

const unreadable = (folder: string, why: string): ZographosError =>
  new ZographosError(
    'input/unreadable-file',
    `The report.json of “${folder}” cannot be read: ${why}. Make the maps again, or remove it to have them guessed by their names.`,
  );

/** A set of a folder as a run takes it. */
export function runSetOf(
  { name, maps }: ImageSet,
  { uvSet = 0, receivers = [] }: { uvSet?: number; receivers?: readonly number[] } = {},
): RunSet {
  return {
    ...{ name, uvSet, receivers, tileWidth: null, hasMesh: false },
    maps: [...maps].map(([kind, { image }]) => {
      const { width, height, channels, colorSpace: space = 'linear', range = [0, 1] as const, convention } = image;
      return { kind, tile: FIRST_TILE, revision: 1, width, height, channels, colorSpace: space, range, convention };
    }),
    madeBy: () => null,
    load: (kind) => {
      const { image } = maps.get(kind)!;
      const states = new Uint8Array(image.width * image.height).fill(TexelState.covered);
      return Promise.resolve({ image, states });
    },
    mesh: () => Promise.resolve(new Uint8Array(0)),
  };
}
