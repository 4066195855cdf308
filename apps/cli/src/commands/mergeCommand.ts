import path from 'node:path';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import { layoutSettings, MERGED_KINDS, mergeSettings, parseWith, type MergedKind } from '@zographos/operations';
import { materialOf, ticketOfMerge, withOneMaterial } from '@zographos/operations/merge';
import { hashedMesh } from '@zographos/operations/scene';
import { parseSize, parseSpacing, positive, required, WRITING_FLAGS, writingHelp, writingOf } from '../flags.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { writeReport } from '../files/mapFolder.ts';
import { runToFolder } from '../files/runToFolder.ts';
import { writeMeshes } from '../files/writeMeshes.ts';

export const MERGE_HELP = `cli merge: merge the materials of objects into one image set and one mesh

  --in FILE            mesh file; may be repeated
  --out DIR            folder for the maps, merged.glb and report.json
  --maps LIST          ${MERGED_KINDS.join(', ')}
                       (basecolor,roughness,metallic,normal)
  --size N | WxH       size of the maps                                    (1024)
  --gap PX | P%        island spacing, px or percent of the tile's width   (4)
  --padding N | all    texels to fill beyond the islands                   (16)
  --samples N          N x N samples per texel, 1 to 8                     (4)
  --keep-layout        the first UV set stays; else objects are unwrapped
                       onto one layout
  --keep-objects       objects stay apart and share the material
  --keep-uv-sets       UV sets beside the shared layout stay
  --object NAME        only this object; may be repeated
  --name NAME          of the new mesh and material                        (merged)
${writingHelp('png8')}  --threads N          threads                                             (all)
  --help               this text
`;

export async function mergeCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      in: { type: 'string', multiple: true },
      out: { type: 'string' },
      maps: { type: 'string', default: 'basecolor,roughness,metallic,normal' },
      size: { type: 'string', default: '1024' },
      gap: { type: 'string', default: '4' },
      padding: { type: 'string', default: '16' },
      samples: { type: 'string', default: '4' },
      'keep-layout': { type: 'boolean', default: false },
      'keep-objects': { type: 'boolean', default: false },
      'keep-uv-sets': { type: 'boolean', default: false },
      object: { type: 'string', multiple: true },
      name: { type: 'string', default: 'merged' },
      ...WRITING_FLAGS,
      threads: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  if (!values.in?.length) required(undefined, 'in');
  const size = parseSize(values.size);
  const gap = parseSpacing(values.gap);
  const objects = (await Promise.all(values.in!.map((file) => loadMeshes(file)))).flat();
  const chosen = values.object ? objects.filter(({ mesh }) => values.object!.includes(mesh.name)) : objects;
  if (chosen.length === 0) {
    const names = objects.map(({ mesh }) => mesh.name).join(', ');
    throw new ZographosError(
      'missing/not-found',
      `No object is named ${values.object!.join(', ')}. There are: ${names}.`,
    );
  }
  const settings = parseWith(mergeSettings, {
    maps: values.maps.split(',').map(parseKind),
    layout: values['keep-layout'] ? null : parseWith(layoutSettings, { method: 'unwrap', size, gap, edge: gap }),
    size,
    padding: values.padding === 'all' ? 'all' : Number(values.padding),
    samples: Number(values.samples),
    keepObjects: values['keep-objects'],
    keepUvSets: values['keep-uv-sets'],
    name: values.name,
  });
  const writing = {
    out,
    ...writingOf(values, 'png8'),
    threads: values.threads ? positive(values.threads, 'threads') : undefined,
  };
  const merge = await runToFolder('merge', { settings, inputs: { receivers: chosen, sources: [] } }, writing);
  const inputs = { receivers: merge.meshes.map(hashedMesh), sources: chosen };
  const images: { kind: MergedKind; image: Image }[] = [];
  const baked = await runToFolder(
    'bake',
    { settings: ticketOfMerge(settings), inputs },
    { ...writing, onMap: (kind, image) => images.push({ kind: parseKind(kind), image }) },
  );
  const made = await materialOf(settings.name, images);
  await writeMeshes(path.join(out, 'merged.glb'), withOneMaterial(merge.meshes, settings, made));
  const { before, after } = merge.report;
  await writeReport(out, baked.maps, { before, after });
  process.stdout.write(
    `Draw calls ${before.drawCalls} → ${after.drawCalls}, materials ${before.materials} → ${after.materials}, images ${before.images} → ${after.images}\n`,
  );
}

function parseKind(text: string): MergedKind {
  const kind = MERGED_KINDS.find((each) => each === text);
  if (kind) return kind;
  throw new ZographosError(
    'input/bad-settings',
    `“${text}” cannot be merged. Choose among ${MERGED_KINDS.join(', ')}.`,
  );
}
