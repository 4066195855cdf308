import { parseArgs } from 'node:util';
import { FIELD_KINDS, WRAPS } from '@zographos/core/pattern';
import { tileSeam } from '@zographos/core/seamless';
import { describeKind, type Image } from '@zographos/core/image';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/images';
import { parseSettings } from '@zographos/operations';
import { jsonOf } from './deriveCommand.ts';
import { oneOf, parseFormat, parseSize, required } from '../flags.ts';
import { writeImage, writeReport } from '../files/mapFolder.ts';
import { inspectPicture } from '../files/pictureFiles.ts';
import { runToFolder } from '../files/runToFolder.ts';

export const PROCEDURAL_HELP = `cli procedural FIELD.json [IMAGE …]: draw a procedural texture

  FIELD.json           { "layers": [{ "kind": "gradient-noise", "scale": 8, … }, …] },
                       with kinds: ${FIELD_KINDS.join(', ')};
                       and, if wished, "maps": [{ "kind": "basecolor", "ramp": [{ "at": 0, "color": "#…" }, …] }];
                       { "kind": "id", "shows": "elements" } tells bricks, cells or fibres apart
  IMAGE …              images or SVG files that layers of kind picture repeat: "picture": 0, 1, …
  --out FILE           where it goes; with several maps, a folder
  --wrap NAME          ${WRAPS.join(', ')}           (flat-torus)
  --size N | WxH       (1024)
  --samples N          samples per texel, n × n                      (2)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}  (png16)
  --help               this text
`;

/** Tells how much the border of each map shows. */
export async function proceduralCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      wrap: { type: 'string' },
      size: { type: 'string', default: '1024' },
      samples: { type: 'string' },
      format: { type: 'string', default: 'png16' },
    },
  });
  const out = required(values.out, 'out');
  const [file, ...images] = positionals;
  const motifs = await Promise.all(images.map(inspectPicture));
  const settings = parseSettings('field', {
    ...(await jsonOf(required(file, 'FIELD.json'))),
    pictures: motifs.map(({ meaning }) => meaning),
    size: parseSize(values.size),
    ...(values.wrap ? { wrap: oneOf('wrap', values.wrap, WRAPS) } : {}),
    ...(values.samples ? { samples: Number(values.samples) } : {}),
  });
  const format = parseFormat(values.format);
  const given = { settings, inputs: { receivers: [], sources: [] }, pictures: motifs.map(({ picture }) => picture) };
  const isOne = settings.maps.length === 1;
  const { maps, report } = await runToFolder('field', given, {
    ...{ out, format },
    onMap: (kind, image) => {
      const seams = (['across', 'up'] as const).map((axis) => `${axis} ${tileSeam(image, axis).toFixed(2)}`);
      process.stdout.write(
        `${describeKind(kind).label}: ${image.width} × ${image.height} px; border contrast (1.00 = invisible): ${seams.join(', ')}\n`,
      );
    },
    ...(isOne ? { putMap: (image: Image) => writeImage(out, image, format) } : {}),
  });
  if (!isOne) await writeReport(out, maps, report);
}
