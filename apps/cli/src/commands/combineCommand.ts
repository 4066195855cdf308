import { parseArgs } from 'node:util';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/images';
import { count, parseSettings } from '@zographos/operations';
import { inspectPicture } from '../files/pictureFiles.ts';
import { flatToFolder } from '../files/runToFolder.ts';
import { parseFormat, parseSize, required } from '../flags.ts';
import { jsonOf } from './deriveCommand.ts';

export const COMBINE_HELP = `cli combine MAPS.json IMAGE …: put maps together from images and their channels

  MAPS.json            { "maps": [{ "kind": "roughness", "layers": [{ "image": 0, "pick": { "channel": 1 },
                       "adjust": [{ "do": "levels", "black": 0.1 }], "match": { "image": 1 },
                       "blend": "multiply", "opacity": 0.5,
                       "mask": { "by": "height", "own": { "image": 2 }, "below": { "image": 3 } } }, …] }, …] },
                       from the bottom up; all but "kind" may be left out
  IMAGE …              the images, numbered from 0 in this order
  --out DIR            where maps go, each named by its kind
  --size N | WxH       (of the first image)
  --no-wrap            the images do not repeat
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}  (png16)
  --help               this text
`;

/** Writes each map, and report.json with what their borders show. */
export async function combineCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      size: { type: 'string' },
      'no-wrap': { type: 'boolean', default: false },
      format: { type: 'string', default: 'png16' },
    },
  });
  const out = required(values.out, 'out');
  const [file, ...names] = positionals;
  const json = await jsonOf(required(file, 'MAPS.json'));
  const images = await Promise.all([required(names[0], 'IMAGE'), ...names.slice(1)].map(inspectPicture));
  const { width, height } = images[0]!.image;
  const settings = parseSettings('combine', {
    ...json,
    pictures: images.map(({ meaning }) => meaning),
    size: values.size ? parseSize(values.size) : { width, height },
    repeats: !values['no-wrap'],
  });
  const format = parseFormat(values.format);
  const pictures = images.map(({ picture }) => picture);
  const { report, maps } = await flatToFolder({ operation: 'combine', settings }, pictures, { format, out });
  process.stdout.write(`${count(maps.length, 'map')} in ${report.seconds.toFixed(1)} s\n`);
}
