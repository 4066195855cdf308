import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { count, layoutSettings, parseWith, type LayoutSettings } from '@zographos/operations';
import { parseSize, parseSpacing, parseTiles, required } from '../flags.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { runToFolder } from '../files/runToFolder.ts';
import { writeMeshes } from '../files/writeMeshes.ts';

/** The exit code for a result that was written, but is not as it should be. */
const NOT_SOUND = 3;

const flags = (verb: string): string => `
  --in FILE            mesh file; all its objects come onto one layout
  --out FILE           where it goes: .glb, .obj or .ply; the new layout is the first UV set,
                       the old ones follow
  --size N | WxH       size of the maps that will lie on it                (1024)
  --gap PX | P%        island spacing, px or percent of the tile's width   (4)
  --edge PX | P%       tile margin                                         (as --gap)
  --each               every object on a layout of its own
  --no-rotate          do not rotate islands
  --keep-density       keep relative texel density
  --scale N            texel density, px per mesh unit                     (fill the tile)
  --window U,V,U,V     the part of the tile that is filled                 (0,0,1,1)
  --tiles LIST         UDIM tiles that are filled, by commas               (1001)
  --weight NAME=F      relative texel density of an object; may be repeated
  --passes N           packing attempts                                    (3)
  --name NAME          of the new UV set                                   (Layout)
  --uv-set N           the present UV set that is ${verb}, from 1          (1)
`;

export const UNWRAP_HELP = `cli unwrap: cut meshes into islands and lay them flat
${flags('looked at with --keep-seams')}
  --hard-edges F       0 to 1: how much cuts follow hard edges             (0.5)
  --keep-seams         keep existing seams
  --bend F             0.1 to 10: how far islands may bend; more gives
                       fewer islands with more stretch                     (2)
  --help               this text
`;

export const PACK_HELP = `cli pack: pack existing islands more tightly
${flags('packed')}
  --help               this text
`;

export const unwrapCommand = (args: string[]): Promise<number> => layoutCommand('unwrap', args);
export const packCommand = (args: string[]): Promise<number> => layoutCommand('pack', args);

async function layoutCommand(method: LayoutSettings['method'], args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      in: { type: 'string' },
      out: { type: 'string' },
      size: { type: 'string', default: '1024' },
      gap: { type: 'string', default: '4' },
      edge: { type: 'string' },
      each: { type: 'boolean', default: false },
      'no-rotate': { type: 'boolean', default: false },
      'keep-density': { type: 'boolean', default: false },
      scale: { type: 'string' },
      window: { type: 'string' },
      tiles: { type: 'string' },
      weight: { type: 'string', multiple: true },
      passes: { type: 'string', default: '3' },
      name: { type: 'string', default: 'Layout' },
      'uv-set': { type: 'string', default: '1' },
      ...(method === 'unwrap'
        ? ({
            'hard-edges': { type: 'string', default: '0.5' },
            'keep-seams': { type: 'boolean', default: false },
            bend: { type: 'string', default: '2' },
          } as const)
        : {}),
    },
  });
  const file = required(values.in, 'in');
  const out = required(values.out, 'out');
  const settings = parseWith(layoutSettings, {
    method,
    size: parseSize(values.size),
    gap: parseSpacing(values.gap),
    edge: parseSpacing(values.edge ?? values.gap),
    together: !values.each,
    rotate: !values['no-rotate'],
    density: values['keep-density'] ? 'kept' : 'equal',
    ...(values.scale ? { scale: Number(values.scale) } : {}),
    ...(values.window ? { window: values.window.split(',').map(Number) } : {}),
    tiles: parseTiles(values.tiles),
    weights: Object.fromEntries((values.weight ?? []).map(parseWeight)),
    passes: Number(values.passes),
    name: values.name,
    uvSet: Number(values['uv-set']) - 1,
    ...('bend' in values
      ? {
          seams: {
            hardEdges: Number(values['hard-edges']),
            existing: values['keep-seams'],
            bend: Number(values.bend),
          },
        }
      : {}),
  });
  const inputs = { receivers: await loadMeshes(file), sources: [] };
  const { meshes, report } = await runToFolder('layout', { settings, inputs }, { out: '.', format: 'png8' });
  await writeMeshes(out, meshes);
  const { coverage, scale, overlaps } = report;
  const density = Number(scale.toPrecision(4));
  process.stdout.write(
    `${count(meshes.length, 'object')}, coverage ${(coverage * 100).toFixed(1)} %, ${settings.density === 'equal' ? `texel density ${density} px per mesh unit` : `scaled by ${density}`}\n`,
  );
  if (overlaps.pairs === 0) return 0;
  const places = overlaps.places.map(([u, v]) => `${u.toFixed(4)}, ${v.toFixed(4)}`).join('; ');
  process.stderr.write(
    `${count(overlaps.pairs, 'pair')} of triangles still overlap, at u, v: ${places}. Look there with uv-check, or cut the mesh there in your modelling program and use --keep-seams.\n`,
  );
  return NOT_SOUND;
}

function parseWeight(text: string): [name: string, weight: number] {
  const at = text.lastIndexOf('=');
  if (at > 0) return [text.slice(0, at), Number(text.slice(at + 1))];
  throw new ZographosError('input/bad-settings', `“${text}” is not a weight. Write “Bell=0.5”.`);
}
