import path from 'node:path';
import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, type BakedKind, type Image, type MapKind } from '@zographos/core/image';
import { measuredKindsOf } from '@zographos/core/layers';
import { FIRST_TILE, tilesOf } from '@zographos/core/uv';
import {
  count,
  DEFAULT_BAKE,
  EXAMPLE_STACK,
  operationOf,
  parseSettings,
  parseStackFile,
  settingsOfStack,
  type LayersSettings,
  type StackFile,
} from '@zographos/operations';
import type { RunPicture } from '@zographos/operations/run-context';
import type { RunMesh } from '@zographos/operations/scene';
import {
  namesTiles,
  oneOf,
  parseSize,
  parseTiles,
  positive,
  required,
  WRITING_FLAGS,
  writingHelp,
  writingOf,
} from '../flags.ts';
import { readSet, writeReport } from '../files/mapFolder.ts';
import { loadInputs } from '../files/meshFiles.ts';
import { meantPicture } from '../files/pictureFiles.ts';
import { runToFolder } from '../files/runToFolder.ts';
import { withStackFile } from '../files/unpackStack.ts';
import { runContext, withThreads } from '../runContext.ts';

export const LAYERS_HELP = `cli layers STACK.json: lay layers on a receiver

A stack or a coating that was saved as a ZIP is taken as it is.

  --receiver FILE      mesh with UVs that gets the maps (OBJ, glTF, GLB, PLY, STL);
                       may be repeated: all share one layout
  --set DIR            folder with the receiver’s measured maps; those that masks
                       need and it lacks are baked from the receiver itself
  --out DIR            folder for the maps and report.json; made if it is not there
  --size N | WxH       size of the maps in texels, 16 to 16384             (1024)
  --tiles LIST | all   UDIM tiles to compose; files then carry their numbers (1001)
  --uv-set N           UV set of the receiver, counted from 1              (1)
  --unit NAME          unit of the mesh: mm, cm, m or in                   (mm)
  --oversize N         compose at 2 times the size and halve               (1)
  --padding N | all    texels to fill beyond the islands                   (16)
  --threads N          threads; the result does not depend on it           (all cores)
${writingHelp('png16')}  --example            print a stack that needs no other file
  --help               this text

Folders and images that the stack names are looked for beside it.
`;

const UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4 } as const;

const flagsOf = (args: string[]) =>
  parseArgs({
    args,
    allowPositionals: true,
    options: {
      receiver: { type: 'string', multiple: true },
      set: { type: 'string' },
      out: { type: 'string' },
      size: { type: 'string', default: '1024' },
      tiles: { type: 'string' },
      'uv-set': { type: 'string', default: '1' },
      unit: { type: 'string', default: 'mm' },
      oversize: { type: 'string', default: '1' },
      padding: { type: 'string', default: '16' },
      threads: { type: 'string' },
      example: { type: 'boolean', default: false },
      ...WRITING_FLAGS,
    },
  });
type Flags = ReturnType<typeof flagsOf>['values'];

/** @throws ZographosError for anything wrong with flags, files, meshes or the stack */
export async function layersCommand(args: string[]): Promise<void> {
  const { values, positionals } = flagsOf(args);
  if (values.example) {
    process.stdout.write(`${JSON.stringify(EXAMPLE_STACK, null, 2)}\n`);
    return;
  }
  const [file] = positionals;
  if (!file) {
    throw new ZographosError('input/bad-settings', 'Name the stack: cli layers STACK.json --receiver FILE --out DIR.');
  }
  const receivers = values.receiver ?? [];
  if (receivers.length === 0) required(undefined, 'receiver');
  const out = required(values.out, 'out');
  await withStackFile(file, (json) => runStack(json, receivers, out, values));
}

async function runStack(file: string, receivers: readonly string[], out: string, values: Flags): Promise<void> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  });
  const stack = parseStackFile(path.basename(file), text);
  const inputs = await loadInputs({ receivers: receivers.map((each) => ({ file: each })), sources: [] });
  const threads = values.threads === undefined ? undefined : positive(values.threads, 'threads');
  const frame = {
    size: parseSize(values.size),
    tiles: parseTiles(values.tiles),
    uvSet: Number(values['uv-set']) - 1,
    unit: UNITS[oneOf('unit', values.unit, Object.keys(UNITS) as (keyof typeof UNITS)[])],
    oversize: Number(values.oversize) as 1 | 2,
    padding: values.padding === 'all' ? ('all' as const) : Number(values.padding),
  };
  // Wrong numbers are told before anything is read or baked.
  parseSettings('layers', frame);
  const pictures = await picturesOf(stack, path.dirname(file));
  const materials = await materialsOf(stack, path.dirname(file), pictures);
  const measured = await measuredOf(stack, inputs.receivers, values.set, frame, threads, pictures);
  const settings = settingsOfStack(stack, { ...frame, materials, measured });
  const { report, maps } = await runToFolder(
    'layers',
    { settings, inputs, pictures, strokes: new Map(Object.entries(stack.strokes)) },
    { out, threads, ...writingOf(values, 'png16'), namesTiles: namesTiles(settings.tiles) },
  );
  await writeReport(out, maps, report);
  for (const { sentence } of report.findings) process.stderr.write(`${sentence}\n`);
  process.stdout.write(
    `${count(stack.layers.length, 'layer')} into ${count(maps.length, 'map')} of ${frame.size.width} × ${frame.size.height} px in ${report.seconds.toFixed(1)} s\n`,
  );
}

type Frame = Pick<LayersSettings, 'size' | 'uvSet' | 'oversize'> & { tiles: LayersSettings['tiles'] };

/** The images of a stack, as light where they are colours. */
const picturesOf = ({ pictures }: StackFile, folder: string): Promise<RunPicture[]> =>
  Promise.all(pictures.map((name) => meantPicture(path.resolve(folder, name))));

const heldPicture = (name: string, image: Image): RunPicture => ({ name, hash: name, bytes: new Uint8Array(0), image });

/** The materials of a stack; their maps are added to its images. */
async function materialsOf(
  { materials }: StackFile,
  beside: string,
  pictures: RunPicture[],
): Promise<LayersSettings['materials']> {
  const all: LayersSettings['materials'] = [];
  for (const { name, folder, width } of materials) {
    const { maps } = await readSet(path.resolve(beside, folder));
    const numbers: Partial<Record<MapKind, number>> = {};
    for (const [kind, { image }] of maps) numbers[kind] = pictures.push(heldPicture(`${name} ${kind}`, image)) - 1;
    all.push({ name, set: null, width, maps: numbers });
  }
  return all;
}

/** The maps that a stack goes by: from a folder, else baked from the receivers themselves; added to its images. */
async function measuredOf(
  stack: StackFile,
  receivers: RunMesh[],
  folder: string | undefined,
  frame: Frame,
  threads: number | undefined,
  pictures: RunPicture[],
): Promise<LayersSettings['measured']> {
  const needed = measuredKindsOf(stack.layers);
  const measured: LayersSettings['measured'] = [];
  const add = (kind: MapKind, tile: number, image: Image): void => {
    measured.push({ kind, tile, picture: pictures.push(heldPicture(`${kind} ${tile}`, image)) - 1 });
  };
  const tiles = frame.tiles === 'all' ? filledTiles(receivers, frame.uvSet) : frame.tiles;
  const lacking = new Map<MapKind, number[]>();
  for (const tile of tiles) {
    const set = folder === undefined ? null : await readSet(folder, tile);
    for (const kind of needed) {
      const known = set?.maps.get(kind);
      if (known) add(kind, tile, known.image);
      else lacking.set(kind, [...(lacking.get(kind) ?? []), tile]);
    }
  }
  for (const kind of lacking.keys()) requireBaked(kind);
  if (lacking.size > 0) {
    const settings = parseSettings('bake', {
      ...DEFAULT_BAKE,
      maps: [...lacking.keys()],
      size: frame.size,
      tiles: [...new Set([...lacking.values()].flat())],
      uvSet: frame.uvSet,
      aim: 'shared',
      samples: 2,
      prove: false,
    });
    const { run } = await operationOf('bake').load();
    await withThreads(() =>
      run({
        ...runContext(threads),
        ...{ settings, inputs: { receivers, sources: receivers }, pictures: [] },
        put: (made) => {
          if (made.what === 'map' && lacking.get(made.kind)?.includes(made.tile)) add(made.kind, made.tile, made.image);
          return Promise.resolve();
        },
      }),
    );
  }
  return measured;
}

function filledTiles(receivers: readonly RunMesh[], uvSet: number): number[] {
  const all = receivers.flatMap(({ mesh }) => [
    ...tilesOf(mesh.uvSets[uvSet]?.coords ?? new Float32Array(0), mesh.indices).tiles.keys(),
  ]);
  return all.length > 0 ? [...new Set(all)].sort((a, b) => a - b) : [FIRST_TILE];
}

/** @throws missing/not-found for a map that cannot be made from a mesh alone */
function requireBaked(kind: MapKind): asserts kind is BakedKind {
  if (describeKind(kind).isBaked) return;
  throw new ZographosError(
    'missing/not-found',
    `The stack goes by a ${describeKind(kind).phrase} map, which cannot be baked from the receiver alone. Name the folder that has it with --set, or change the stack.`,
  );
}
