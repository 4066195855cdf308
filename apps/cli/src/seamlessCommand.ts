import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import {
  DEFAULT_SEAMLESS,
  resample,
  SEAMLESS_METHODS,
  seamlessSet,
  standsForThings,
  tileSeam,
  toLight,
  ZographosError,
  type Axis,
  type Image,
  type MapKind,
} from '@zographos/core';
import { encodeImage, IMAGE_FORMAT_NAMES, IMAGE_FORMATS } from '@zographos/formats/images';
import { oneOf, parseFormat, parseSize, required } from './flags.ts';
import { asDeepAs, readSet } from './imageSetFolder.ts';
import { inspectPicture } from './pictureFiles.ts';

export const SEAMLESS_HELP = `cli seamless: make a picture, or all maps of a set, repeat without a border

  --in FILE            the picture
  --in-set DIR         or a folder with the maps of a set, each named by its kind;
                       all of them are cut alike
  --out FILE | DIR     where it goes
  --method NAME        band: both ends blended; cut: joined along the path where they
                       differ least; preserve: blended so that contrast stays; mirror  (cut)
  --axis NAME          both, across or up                                  (both)
  --width N            texels of both ends that lie on each other          (an eighth of the shorter side)
  --softness F         0 to 1: how much of the width blends; of a cut, the texels
                       over which it is soft                               (1; 2)
  --balance F          0 to 1: below one half the end shows less           (0.5)
  --size N | WxH       resampled to this size at last; the result repeats still
  --guide KIND         of a set: the map by which cuts are found           (basecolor, or the first)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                                           (png, as deep as what comes in)
  --help               this text
`;

interface MapFile {
  kind: MapKind;
  image: Image;
  bits: number;
}

const COLOURS: readonly MapKind[] = ['basecolor', 'emission', 'image'];

/** Colours are mixed as light. Tells how much the border shows, before and after. */
export async function seamlessCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      in: { type: 'string' },
      'in-set': { type: 'string' },
      out: { type: 'string' },
      method: { type: 'string', default: 'cut' },
      axis: { type: 'string', default: 'both' },
      width: { type: 'string' },
      softness: { type: 'string' },
      balance: { type: 'string', default: '0.5' },
      size: { type: 'string' },
      guide: { type: 'string' },
      format: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  if ((values.in === undefined) === (values['in-set'] === undefined)) {
    throw new ZographosError(
      'input/bad-settings',
      'Give either a picture with --in, or the folder of a set with --in-set.',
    );
  }
  const maps = values.in === undefined ? await setOf(values['in-set']!) : [await pictureOf(values.in)];
  const guide = guideOf(maps, values.guide);
  const { width, height } = maps[guide]!.image;
  const method = oneOf('method', values.method, SEAMLESS_METHODS);
  const axis = oneOf('axis', values.axis, ['both', 'across', 'up']);
  const axes: Axis[] = axis === 'both' ? ['across', 'up'] : [axis];
  const softness =
    values.softness === undefined ? undefined : number('softness', values.softness, method === 'cut' ? 1024 : 1);
  const tiles = seamlessSet(maps, guide, {
    ...DEFAULT_SEAMLESS,
    ...{ method, axes, balance: number('balance', values.balance, 1) },
    width: values.width === undefined ? Math.max(1, Math.floor(Math.min(width, height) / 8)) : Number(values.width),
    ...(softness === undefined ? {} : method === 'cut' ? { cutSoftness: softness } : { softness }),
  });
  const size = values.size === undefined ? undefined : parseSize(values.size);
  const format = values.format ? parseFormat(values.format) : asDeepAs(maps.map(({ bits }) => bits));
  await mkdir(values.in === undefined ? out : path.dirname(out), { recursive: true });
  for (const [i, tile] of tiles.entries()) {
    const { kind } = maps[i]!;
    const sized = size ? resample(tile, size, standsForThings(kind) ? 'nearest' : 'mitchell', 'repeat') : tile;
    const file = values.in === undefined ? path.join(out, `${kind}.${IMAGE_FORMATS[format].ending}`) : out;
    await writeFile(file, await encodeImage(sized, format));
  }
  const tile = tiles[guide]!;
  const told = axes.map(
    (each) => `${each} ${short(tileSeam(maps[guide]!.image, each))} → ${short(tileSeam(tile, each))}`,
  );
  process.stdout.write(
    `${size ? `${size.width} × ${size.height}` : `${tile.width} × ${tile.height}`} px; jump over the border, 1 where it cannot be told: ${told.join(', ')}\n`,
  );
}

const short = (value: number): string => value.toFixed(2);

function number(flag: string, text: string, most: number): number {
  const value = Number(text);
  if (Number.isFinite(value) && value >= 0 && value <= most) return value;
  throw new ZographosError('input/bad-settings', `--${flag} takes a number from 0 to ${most}, not “${text}”.`);
}

async function pictureOf(file: string): Promise<MapFile> {
  const { image, inspection } = await inspectPicture(file);
  const { kind, colorSpace } = inspection.guess;
  return { kind, image: colorSpace === 'srgb' ? asLight(image) : image, bits: inspection.bits };
}

async function setOf(folder: string): Promise<MapFile[]> {
  const { maps } = await readSet(folder);
  return [...maps].map(([kind, { image, bits }]) => ({
    ...{ kind, bits },
    image: COLOURS.includes(kind) && bits <= 16 ? asLight(image) : image,
  }));
}

function asLight(image: Image): Image {
  const light: Image = { ...image, colorSpace: 'srgb' };
  toLight(light);
  return light;
}

function guideOf(maps: readonly MapFile[], wanted: string | undefined): number {
  const named = maps.findIndex(({ kind }) => kind === (wanted ?? 'basecolor'));
  if (named >= 0) return named;
  if (wanted === undefined) return 0;
  throw new ZographosError(
    'input/bad-settings',
    `The set has no ${wanted} map to cut by. There are: ${maps.map(({ kind }) => kind).join(', ')}.`,
  );
}
