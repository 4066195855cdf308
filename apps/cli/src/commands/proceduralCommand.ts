import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { FIELD_KINDS, WRAPS } from '@zographos/core/pattern';
import { tileSeam } from '@zographos/core/seamless';
import { encodeImage, IMAGE_FORMAT_NAMES, IMAGE_FORMATS } from '@zographos/formats/images';
import { parseSettings } from '@zographos/operations';
import { drawField } from '@zographos/operations/run';
import { jsonOf } from './deriveCommand.ts';
import { oneOf, parseFormat, parseSize, required } from '../flags.ts';
import { runContext } from '../runContext.ts';

export const PROCEDURAL_HELP = `cli procedural FIELD.json: draw a procedural field

  FIELD.json           { "layers": [{ "kind": "gradient noise", "scale": 8, … }, …] },
                       with kinds: ${FIELD_KINDS.join(', ')};
                       and, if wished, "maps": [{ "kind": "basecolor", "ramp": [{ "at": 0, "color": "#…" }, …] }]
  --out FILE           where it goes; with several maps, a folder
  --wrap NAME          ${WRAPS.join(', ')}           (flat-torus)
  --size N | WxH       (1024)
  --samples N          along each side of a texel                    (2)
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
  const settings = parseSettings('field', {
    ...(await jsonOf(required(positionals[0], 'FIELD.json'))),
    size: parseSize(values.size),
    ...(values.wrap ? { wrap: oneOf('wrap', values.wrap, WRAPS) } : {}),
    ...(values.samples ? { samples: Number(values.samples) } : {}),
  });
  const format = parseFormat(values.format);
  const maps = await drawField(settings, runContext());
  const isOne = maps.length === 1;
  await mkdir(isOne ? path.dirname(out) : out, { recursive: true });
  for (const { kind, image } of maps) {
    const file = isOne ? out : path.join(out, `${kind}.${IMAGE_FORMATS[format].ending}`);
    await writeFile(file, await encodeImage(image, format));
    const seams = (['across', 'up'] as const).map((axis) => `${axis} ${tileSeam(image, axis).toFixed(2)}`);
    process.stdout.write(`${kind}: ${image.width} × ${image.height} px; jump over the border: ${seams.join(', ')}\n`);
  }
}
