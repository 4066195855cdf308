import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { GLTF_NORMAL, isDirection, isMapKind, MAP_KIND_IDS, pickOfMap, type ChannelPick } from '@zographos/core/image';
import { AIMS, count } from '@zographos/operations';
import { transferSettings, type MapToCarry, type TransferOptions } from '@zographos/operations/bake';
import type { RunPicture } from '@zographos/operations/run-context';
import { oneOf, parseReach, parseSize, positive, required, WRITING_FLAGS, writingHelp, writingOf } from '../flags.ts';
import { writeReport } from '../files/mapFolder.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { inspectionOf, parsePictureText, pictureFile } from '../files/pictureFiles.ts';
import { runToFolder } from '../files/runToFolder.ts';

export const TRANSFER_HELP = `cli transfer: transfer maps from one layout to another

  --receiver FILE      mesh with the new layout
  --source FILE        mesh with the layout that the maps lie on
  --image KIND=FILE[:CHANNEL][:invert]
                       a map, or one channel (r, g, b or a) of a file, which is known
                       of files named as bell_ORM.png; may be repeated. Kinds:
                       ${MAP_KIND_IDS.join(', ')}
  --out DIR            folder for the maps; made if it is not there
  --size N | WxH       size of the new maps                                (1024)
  --padding N | all    texels to fill beyond the islands                   (16)
  --samples N          N x N samples per texel, 1 to 8                     (2)
  --uv-set N           UV set of the receiver, counted from 1              (1)
  --source-uv-set N    UV set of the source                                (1)
  --aim NAME           shared: through the triangles that both share, exact;
                       nearest: nearest surface point; rays; or auto: shared
                       if all are, else nearest                            (auto)
  --reach NAME, --reach-out L, --reach-in L   as for bake, with rays
  --wrap NAME          beyond the picture: repeat, mirror or clamp         (repeat)
  --normal-y NAME      up or down: green channel of the new normal maps    (up)
  --image-y NAME       up or down: green channel of the images
                                                                           (by their names and contents)
${writingHelp('png16')}  --threads N          threads                                             (all)
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
      'image-y': { type: 'string' },
      ...WRITING_FLAGS,
      threads: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  const options = {
    size: parseSize(values.size),
    padding: values.padding === 'all' ? 'all' : Number(values.padding),
    samples: Number(values.samples),
    uvSet: Number(values['uv-set']) - 1,
    sourceUvSet: Number(values['source-uv-set']) - 1,
    wrap: oneOf('wrap', values.wrap, ['repeat', 'mirror', 'clamp']),
    aim: oneOf('aim', values.aim, ['auto', ...AIMS]),
    reach: parseReach(values.reach, values['reach-out'], values['reach-in']) as TransferOptions['reach'],
    normalY: oneOf('normal-y', values['normal-y'], ['up', 'down']),
  } satisfies TransferOptions;
  const imageY = values['image-y'] === undefined ? null : oneOf('image-y', values['image-y'], ['up', 'down']);
  const maps = await Promise.all((values.image ?? [required(undefined, 'image')]).map((text) => readMap(text, imageY)));
  const [receivers, sources] = await Promise.all([
    loadMeshes(required(values.receiver, 'receiver')),
    loadMeshes(required(values.source, 'source')),
  ]);
  const meshes = (inputs: typeof receivers) => inputs.map(({ mesh }) => mesh);
  const settings = transferSettings(meshes(receivers), meshes(sources), maps, options);
  const done = await runToFolder(
    'bake',
    { settings, inputs: { receivers, sources }, pictures: maps.map(({ picture }) => picture) },
    { out, ...writingOf(values, 'png16'), threads: values.threads ? positive(values.threads, 'threads') : undefined },
  );
  await writeReport(out, done.maps, done.report);
  const through = { shared: 'shared triangles', nearest: 'the nearest surface points', rays: 'rays' };
  process.stdout.write(`${count(done.maps.length, 'map')} transferred through ${through[settings.aim]}\n`);
}

/** A map to carry over; how its normals are written is what is said, else what its name and its content say. */
async function readMap(text: string, y: 'up' | 'down' | null): Promise<MapToCarry & { picture: RunPicture }> {
  const at = text.indexOf('=');
  const kind = text.slice(0, at);
  const said = parsePictureText(text.slice(at + 1));
  if (at < 0 || !isMapKind(kind) || !said) {
    throw new ZographosError(
      'input/bad-settings',
      `“${text}” is not a map. Write “basecolor=old.png” or “roughness=orm.png:g”; see --help for kinds.`,
    );
  }
  const { file, channel, invert } = said;
  const picture = await pictureFile(file);
  if (isDirection(kind) && y) {
    return { kind, pick: null, picture: { ...picture, convention: { of: 'direction', ...GLTF_NORMAL, y } } };
  }
  if (channel !== null) return { kind, pick: { channel, ...(invert ? { invert } : {}) }, picture };
  const { packing, convention } = (await inspectionOf(picture)).guess;
  const known = packing ? pickOfMap(packing, kind) : null;
  const pick: ChannelPick | null = invert
    ? { channel: typeof known?.channel === 'number' ? known.channel : 0, ...(known?.invert ? {} : { invert }) }
    : known;
  return { kind, pick, picture: isDirection(kind) && convention ? { ...picture, convention } : picture };
}
