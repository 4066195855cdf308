import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { MAP_KINDS, type MapKind } from '@zographos/core/image';
import { encodeImage, IMAGE_FORMAT_NAMES, IMAGE_FORMATS } from '@zographos/formats/images';
import { transfer, type TransferredMap, type TransferSettings } from '@zographos/operations/run';
import { oneOf, parseFormat, parseReach, parseSize, positive, required } from '../flags.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { pictureBytes } from '../files/pictureFiles.ts';
import { runContext, withThreads } from '../runContext.ts';

export const TRANSFER_HELP = `cli transfer: carry maps over from one layout to another

  --receiver FILE      mesh with the new layout
  --source FILE        mesh with the layout that the maps lie on
  --image KIND=FILE    a map; may be repeated. Kinds:
                       ${MAP_KINDS.join(', ')}
  --out DIR            folder for the maps; made if it is not there
  --size N | WxH       size of the new maps                                (1024)
  --padding N | all    texels to fill beyond the islands                   (16)
  --samples N          N x N samples per texel, 1 to 8                     (2)
  --uv-set N           UV set of the receiver, counted from 1              (1)
  --source-uv-set N    UV set of the source                                (1)
  --aim NAME           shared: through the triangles that both share, exact;
                       nearest: the nearest place; rays; or auto: shared
                       if all are, else nearest                            (auto)
  --reach NAME, --reach-out L, --reach-in L   as for bake, with rays
  --wrap NAME          beyond the picture: repeat, mirror or clamp         (repeat)
  --normal-y NAME      up or down: where green points in normal maps       (up)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}               (png16)
  --threads N          threads                                             (all)
  --help               this text
`;

export async function transferCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      receiver: { type: 'string' },
      source: { type: 'string' },
      image: { type: 'string', multiple: true },
      out: { type: 'string' },
      size: { type: 'string', default: '1024' },
      padding: { type: 'string', default: '16' },
      samples: { type: 'string', default: '2' },
      'uv-set': { type: 'string', default: '1' },
      'source-uv-set': { type: 'string', default: '1' },
      aim: { type: 'string', default: 'auto' },
      reach: { type: 'string' },
      'reach-out': { type: 'string' },
      'reach-in': { type: 'string' },
      wrap: { type: 'string', default: 'repeat' },
      'normal-y': { type: 'string', default: 'up' },
      format: { type: 'string', default: 'png16' },
      threads: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  const format = parseFormat(values.format);
  const settings = {
    size: parseSize(values.size),
    padding: values.padding === 'all' ? 'all' : Number(values.padding),
    samples: Number(values.samples),
    uvSet: Number(values['uv-set']) - 1,
    sourceUvSet: Number(values['source-uv-set']) - 1,
    wrap: oneOf('wrap', values.wrap, ['repeat', 'mirror', 'clamp']),
    how: oneOf('aim', values.aim, ['auto', 'shared', 'nearest', 'rays']),
    reach: parseReach(values.reach, values['reach-out'], values['reach-in']) as TransferSettings['reach'],
    normalY: oneOf('normal-y', values['normal-y'], ['up', 'down']),
  } satisfies TransferSettings;
  if (!values.image?.length) required(undefined, 'image');
  const maps = await Promise.all(values.image!.map(readMap));
  const [receivers, sources] = await Promise.all([
    loadMeshes(required(values.receiver, 'receiver')),
    loadMeshes(required(values.source, 'source')),
  ]);
  const threads = values.threads ? positive(values.threads, 'threads') : undefined;
  const done = await withThreads(() => transfer(receivers, sources, maps, settings, runContext(threads)));
  await mkdir(out, { recursive: true });
  for (const { kind, image } of done.maps) {
    await writeFile(path.join(out, `${kind}.${IMAGE_FORMATS[format].ending}`), await encodeImage(image, format));
  }
  const ways = { shared: 'the triangles they share', nearest: 'the nearest places', rays: 'rays' };
  process.stdout.write(`${done.maps.length} map(s) carried over through ${ways[done.how]}\n`);
}

async function readMap(text: string): Promise<TransferredMap> {
  const at = text.indexOf('=');
  const kind = text.slice(0, at);
  const file = text.slice(at + 1);
  if (at < 0 || !(MAP_KINDS as readonly string[]).includes(kind)) {
    throw new ZographosError(
      'input/bad-settings',
      `“${text}” is no map. Write “basecolor=old.png”; see --help for kinds.`,
    );
  }
  return { kind: kind as MapKind, picture: await pictureBytes(file) };
}
