import path from 'node:path';
import { mkdir } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { packChannels, type ChannelSource } from '@zographos/core/image';
import { encodeImage, IMAGE_FORMAT_NAMES, type ImageFormat } from '@zographos/formats/images';
import { parseFormat, parseSize, required } from '../flags.ts';
import { inspectPicture, parsePictureText } from '../files/pictureFiles.ts';
import { writeWhole } from '../files/writeWhole.ts';

export const PACK_CHANNELS_HELP = `
With --r, --g, --b or --a, cli pack puts channels of pictures into one file instead:

  --r, --g, --b, --a SOURCE
                       what each channel holds: a number from 0 to 1, or
                       FILE[:CHANNEL][:invert][:levels=BLACK-WHITE], where CHANNEL is
                       r, g, b or a and levels are stored values, as in
                       roughness.png:invert, orm.png:g or ao.png:levels=0.1-0.9
                       (r: 0; without g, b and a the file is grey; without a it has none)
  --out FILE           .png, .tif, .exr or .tga
  --size N | WxH       size                               (that of the largest picture)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                          (by --out, as deep as what comes in)
`;

const CHANNELS = ['r', 'g', 'b', 'a'] as const;

export const packsChannels = (args: readonly string[]): boolean =>
  args.some((arg) => CHANNELS.some((channel) => arg === `--${channel}` || arg.startsWith(`--${channel}=`)));

interface Given {
  source: ChannelSource;
  bits: number;
  file: string | null;
  isColour: boolean;
}

/** Numbers go as they are stored; what is a colour by its name is told, for data does not go through its curve. */
export async function packChannelsCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      r: { type: 'string' },
      g: { type: 'string' },
      b: { type: 'string' },
      a: { type: 'string' },
      out: { type: 'string' },
      size: { type: 'string' },
      format: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  const isGrey = values.g === undefined && values.b === undefined && values.a === undefined;
  const wanted = isGrey ? (['r'] as const) : values.a === undefined ? (['r', 'g', 'b'] as const) : CHANNELS;
  const given = await Promise.all(wanted.map((channel) => sourceOf(values[channel] ?? '0', channel)));
  const packed = packChannels(
    given.map(({ source }) => source),
    values.size === undefined ? undefined : parseSize(values.size),
  );
  const format = values.format ? parseFormat(values.format) : formatOf(out, Math.max(...given.map(({ bits }) => bits)));
  await mkdir(path.dirname(out), { recursive: true });
  await writeWhole(out, await encodeImage(packed, format, { fourth: 'data' }));
  process.stdout.write(`${packed.width} × ${packed.height} px, ${packed.channels} channels\n`);
  for (const sentence of told(given, packed)) process.stderr.write(`${sentence}\n`);
}

function told(given: readonly Given[], { width, height }: { width: number; height: number }): string[] {
  const sentences = given.flatMap(({ source, file, isColour }) => {
    if (!('image' in source)) return [];
    const { width: w, height: h } = source.image;
    return [
      ...(w === width && h === height ? [] : [`“${file}” was resampled from ${w} × ${h} to ${width} × ${height} px.`]),
      ...(isColour ? [`“${file}” is named as a colour; its sRGB values are written unconverted, as data.`] : []),
    ];
  });
  return [...new Set(sentences)];
}

/** @throws input/bad-settings, missing/not-found, input/unreadable-file */
async function sourceOf(text: string, flag: string): Promise<Given> {
  const constant = Number(text);
  if (text !== '' && Number.isFinite(constant)) {
    if (constant < 0 || constant > 1) throw bad(flag, text, 'a number from 0 to 1');
    return { source: { constant }, bits: 8, file: null, isColour: false };
  }
  const said = parsePictureText(text);
  if (!said) throw bad(flag, text, 'FILE, FILE:g, FILE:invert or FILE:levels=0.1-0.9');
  const { file, invert, levels } = said;
  const channel = said.channel ?? 0;
  const { name, image, inspection } = await inspectPicture(file);
  const isColour = inspection.guess.reason === 'from its name' && inspection.guess.colorSpace === 'srgb';
  return { source: { image, channel, invert, levels }, bits: inspection.bits, file: name, isColour };
}

const bad = (flag: string, text: string, known: string): ZographosError =>
  new ZographosError('input/bad-settings', `--${flag} takes ${known}, not “${text}”.`);

function formatOf(out: string, bits: number): ImageFormat {
  switch (path.extname(out).toLowerCase()) {
    case '.png':
      return bits > 8 ? 'png16' : 'png8';
    case '.tif':
    case '.tiff':
      return 'tiff16';
    case '.exr':
      return 'exr';
    case '.tga':
      return 'tga';
    default:
      throw new ZographosError(
        'input/wrong-file-type',
        `“${out}” names no format that pictures are written in. End it in .png, .tif, .exr or .tga.`,
      );
  }
}
