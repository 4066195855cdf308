import { parseArgs } from 'node:util';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/images';
import { count, parseSettings, percentText } from '@zographos/operations';
import { inspectPicture } from '../files/pictureFiles.ts';
import { flatToFolder } from '../files/runToFolder.ts';
import { fraction, parseFormat, parseSize, required } from '../flags.ts';

export const CUT_OUTS_HELP = `cli cut-outs IMAGE …: pack what stands alone in images with alpha into an atlas

  IMAGE …              images of one set, of one size; the opacity is one of them, or the
                       alpha of the first
  --out DIR            where the maps of the atlas go, each named by its kind, with their
                       opacity, and report.json with the place of each cut-out
  --size N | WxH       size of the atlas                                   (2048)
  --threshold F        opacity above which a texel counts, 0 to 1          (0.1)
  --least F            smallest that is kept, as a share of the image      (0.0005)
  --gutter N           px around each                                      (8)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}  (png16)
  --help               this text
`;

/** Tells how many there are, and by how much they were reduced. */
export async function cutOutsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      size: { type: 'string', default: '2048' },
      threshold: { type: 'string', default: '0.1' },
      least: { type: 'string', default: '0.0005' },
      gutter: { type: 'string', default: '8' },
      format: { type: 'string', default: 'png16' },
    },
  });
  const out = required(values.out, 'out');
  const images = await Promise.all([required(positionals[0], 'IMAGE'), ...positionals.slice(1)].map(inspectPicture));
  const settings = parseSettings('cutouts', {
    pictures: images.map(({ meaning }) => meaning),
    size: parseSize(values.size),
    threshold: fraction('threshold', values.threshold),
    least: fraction('least', values.least),
    gutter: Number(values.gutter),
  });
  const format = parseFormat(values.format);
  const pictures = images.map(({ picture }) => picture);
  const { report } = await flatToFolder({ operation: 'cutouts', settings }, pictures, { format, out });
  const { places, scale } = report.cutouts!;
  const reduced = scale < 1 ? `, reduced to ${percentText(scale)} so that all fit` : '';
  process.stdout.write(`${count(places.length, 'cut-out')}${reduced}, in ${report.seconds.toFixed(1)} s\n`);
}
