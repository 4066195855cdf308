import path from 'node:path';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, type Image, type MapKind } from '@zographos/core/image';
import { ownSize, tileSeam, WANG_TABLE, type Axis } from '@zographos/core/seamless';
import { IMAGE_FORMAT_NAMES, type ImageFormat } from '@zographos/formats/images';
import {
  guideOf,
  keptText,
  parseSettings,
  percentText,
  type FlatReport,
  type SeamlessSettings,
} from '@zographos/operations';
import { asMeantBy } from '@zographos/operations/preview';
import { fraction, oneOf, parseFormat, parseSize, required } from '../flags.ts';
import { asDeepAs, readSet, writeImage, writeReport } from '../files/mapFolder.ts';
import { inspectPicture } from '../files/pictureFiles.ts';
import { runToFolder } from '../files/runToFolder.ts';
import { writeWhole } from '../files/writeWhole.ts';

const METHODS = ['band', 'cut', 'preserve', 'synthesise', 'mirror', 'wang'] as const;

export const SEAMLESS_HELP = `cli seamless: make a picture, or all maps of a set, repeat without a border

  --in FILE            the picture
  --in-set DIR         or a folder with the maps of a set, each named by its kind;
                       all of them are cut alike
  --out FILE | DIR     where it goes
  --method NAME        band: both ends blended; cut: joined along the path where they
                       differ least; preserve: blended so that contrast stays;
                       synthesise: synthesise from patches; mirror;
                       wang: an atlas of 4 × 4 Wang tiles that match in any order,
                       with tiles.json beside it                           (cut)
  --axis NAME          both, across or up                                  (both)
  --width N            overlap of opposite edges, px                       (an eighth)
  --width-x N          of left and right alone                             (--width)
  --width-y N          of top and bottom alone                             (--width)
  --softness F         0 to 1: how much of the width blends                (1; of a cut 0.08)
  --balance F          0 to 1: below one half the end shows less           (0.5)
  --even F             0 to 1: even out lighting                           (0)
  --shadows F          0 to 1: remove cast shadows                         (0)
  --highlights F       0 to 1: remove highlights                           (0)
  --patch F            of patches: their side as a share of the picture    (0.5)
  --tile F             of Wang tiles: their side as a share of the picture (0.5)
  --seed N             of patches and Wang tiles: random seed              (1)
  --size N | WxH       size of the tile                                    (what is left of the picture)
  --guide KIND         of a set: the map by which cuts are found           (basecolor, or the first)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                                           (png, or exr of floats: as deep as what comes in)
  --help               this text
`;

interface MapFile {
  kind: MapKind;
  image: Image;
  bits: number;
}

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
      'width-x': { type: 'string' },
      'width-y': { type: 'string' },
      softness: { type: 'string' },
      balance: { type: 'string', default: '0.5' },
      even: { type: 'string', default: '0' },
      shadows: { type: 'string', default: '0' },
      highlights: { type: 'string', default: '0' },
      patch: { type: 'string', default: '0.5' },
      tile: { type: 'string', default: '0.5' },
      seed: { type: 'string', default: '1' },
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
  const method = oneOf('method', values.method, METHODS);
  const axis = oneOf('axis', values.axis, ['both', 'across', 'up']);
  const [first] = maps as [MapFile];
  const endsOf = (along: number, wanted: string | undefined) => ({
    method: method === 'synthesise' || method === 'wang' ? 'cut' : method,
    width: wanted === undefined ? 1 / 8 : texels(wanted, along) / along,
    softness: values.softness === undefined ? (method === 'cut' ? 0.08 : 1) : fraction('softness', values.softness),
    balance: fraction('balance', values.balance),
  });
  const { width, height } = first.image;
  const ends = {
    across: axis === 'up' ? { method: 'none' } : endsOf(width, values['width-x'] ?? values.width),
    up: axis === 'across' ? { method: 'none' } : endsOf(height, values['width-y'] ?? values.width),
  };
  const asked = parseSettings('seamless', {
    pictures: maps.map(({ kind, image }) => ({ kind, colorSpace: image.colorSpace ?? 'linear' })),
    guide: values.guide ?? null,
    even: {
      light: fraction('even', values.even),
      color: fraction('even', values.even),
      shadows: fraction('shadows', values.shadows),
      highlights: fraction('highlights', values.highlights),
    },
    way: method === 'synthesise' ? 'patches' : method === 'wang' ? 'wang' : 'ends',
    ends,
    patches: { patch: fraction('patch', values.patch), seed: Number(values.seed) },
    wang: { tile: fraction('tile', values.tile), seed: Number(values.seed) },
    size: { width, height },
  });
  const settings = { ...asked, size: values.size === undefined ? ownSize(first.image, asked) : parseSize(values.size) };
  const guide = guideAmong(maps, settings);
  const wanted = values.format && parseFormat(values.format);
  const formatOf = (kind: MapKind): ImageFormat =>
    wanted || asDeepAs(maps.filter((map) => map.kind === kind).map(({ bits }) => bits));
  const tiles: Image[] = [];
  const pictures = maps.map(({ kind, image }) => ({ hash: kind, name: kind, bytes: new Uint8Array(0), image }));
  const writing = { out, format: formatOf, onMap: (_kind: MapKind, image: Image) => tiles.push(image) };
  const given = { settings, inputs: { receivers: [], sources: [] }, pictures };
  const putMap = (image: Image): Promise<void> => writeImage(out, image, formatOf(first.kind));
  const { maps: written, report } = await runToFolder('seamless', given, values.in ? { ...writing, putMap } : writing);
  if (values.in === undefined) await writeReport(out, written, report);
  if (method === 'wang') {
    const folder = values.in === undefined ? out : path.dirname(out);
    await writeWhole(path.join(folder, 'tiles.json'), `${JSON.stringify(WANG_TABLE, null, 2)}\n`);
  }
  const axes: Axis[] = axis === 'both' ? ['across', 'up'] : [axis];
  const tile = tiles[guide]!;
  const told = axes.map(
    (each) => `${each} ${short(tileSeam(maps[guide]!.image, each))} → ${short(tileSeam(tile, each))}`,
  );
  process.stdout.write(
    `${tile.width} × ${tile.height} px, keeping ${keptText(first.image, settings)}; border contrast (1.00 = invisible): ${told.join(', ')}; ${proofText(report)}\n`,
  );
}

/** How good the tile is: of its seams, below 0.5 hardly anything is seen. */
const proofText = ({ joins, repetition: { mirrored, likeness } }: FlatReport): string =>
  [
    ...(joins ? [`visible seams ${short(joins.visibility)}`] : []),
    `mirror symmetry ${percentText(mirrored)}`,
    `self-similarity ${percentText(likeness)}`,
  ].join(', ');

const short = (value: number): string => value.toFixed(2);

function texels(text: string, along: number): number {
  const width = Number(text);
  if (Number.isInteger(width) && width >= 1 && width * 2 <= along) return width;
  throw new ZographosError(
    'input/bad-settings',
    `Ends of ${text} px cannot be laid over each other in a picture of ${along} px. Choose from 1 to ${Math.floor(along / 2)} px.`,
  );
}

async function pictureOf(file: string): Promise<MapFile> {
  const { image, inspection, meaning } = await inspectPicture(file);
  return { kind: meaning.kind, image: asMeantBy(meaning, image), bits: inspection.bits };
}

async function setOf(folder: string): Promise<MapFile[]> {
  const { maps } = await readSet(folder);
  return [...maps].map(([kind, { image, bits }]) => ({ kind, image, bits }));
}

/** @throws input/bad-settings for a map that is not there */
function guideAmong(maps: readonly MapFile[], settings: SeamlessSettings): number {
  if (settings.guide === null || maps.some(({ kind }) => kind === settings.guide)) return guideOf(settings);
  throw new ZographosError(
    'input/bad-settings',
    `There is no ${describeKind(settings.guide).phrase} map in the set. It holds: ${maps.map((map) => map.kind).join(', ')}.`,
  );
}
