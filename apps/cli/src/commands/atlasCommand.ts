import path from 'node:path';
import { randomUUID } from 'node:crypto';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, kindsOfPacking, type Image, type ImagePacking, type MapKind } from '@zographos/core/image';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/images';
import { count, gutterOf, parseSettings } from '@zographos/operations';
import { oneOf, parseFormat, parseSize, required } from '../flags.ts';
import { asDeepAs, readSet, runSetOf, writePacked, writeReport, type ImageSet } from '../files/mapFolder.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { runToFolder } from '../files/runToFolder.ts';
import { writeMeshes } from '../files/writeMeshes.ts';

export const ATLAS_HELP = `cli atlas: place whole image sets into one atlas, texel for texel

  --set DIR            folder with the maps of one set, each named by its kind, as
                       basecolor.png, bell_normal.png or bell_ORM.png, whose
                       channels stay together; may be repeated
  --meshes FILE        the mesh of each set, in the order of the sets; may be repeated
  --out DIR            folder for the maps, the meshes with moved UVs and report.json
  --size N | WxH       size of the atlas                                   (4096)
  --layout NAME        grid: equal squares in rows from the bottom left;
                       packed: mixed sizes on shelves; trims: full-width
                       strips from the top, scaled to the width            (grid)
  --mips N             gutter of 2^N px, clean for N mip levels            (none)
  --join               meshes become one, with one material, named as the folder
  --keep-uv-sets       UV sets beside that of the atlas stay on it
  --uv-set N           UV set that is moved, counted from 1                (1)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                                           (png, as deep as what comes in)
  --help               this text
`;

export async function atlasCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      set: { type: 'string', multiple: true },
      meshes: { type: 'string', multiple: true },
      out: { type: 'string' },
      size: { type: 'string', default: '4096' },
      layout: { type: 'string', default: 'grid' },
      mips: { type: 'string' },
      'uv-set': { type: 'string', default: '1' },
      join: { type: 'boolean', default: false },
      'keep-uv-sets': { type: 'boolean', default: false },
      format: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  if (!values.set?.length) required(undefined, 'set');
  const size = parseSize(values.size);
  if (values.mips !== undefined && !/^([0-9]|10)$/.test(values.mips)) {
    throw new ZographosError(
      'input/bad-settings',
      `--mips takes a number of mip levels from 0 to 10, not “${values.mips}”.`,
    );
  }
  const files = values.meshes ?? [];
  if (files.length > 0 && files.length !== values.set!.length) {
    throw new ZographosError(
      'input/bad-settings',
      `There are ${values.set!.length} sets and ${files.length} meshes. Give the mesh of each set, in the same order, or none.`,
    );
  }
  const sets = await Promise.all(values.set!.map((folder) => readSet(folder)));
  const objects = await Promise.all(files.map((file) => loadMeshes(file)));
  const settings = parseSettings('atlas', {
    name: path.basename(path.resolve(out)),
    sets: sets.map(({ name, width, height }) => ({ imageSet: randomUUID(), name, width, height })),
    size,
    arrangement: { grid: 'rows', packed: 'shelves', trims: 'trims' }[
      oneOf('layout', values.layout, ['grid', 'packed', 'trims'])
    ],
    halvings: values.mips === undefined ? null : Number(values.mips),
    resample: false,
    keepMeshes: !values.join,
    keepUvSets: values['keep-uv-sets'],
  });
  const uvSet = Number(values['uv-set']) - 1;
  let first = 0;
  const runSets = sets.map((set, i) => {
    const receivers = (objects[i] ?? []).map((_, k) => first + k);
    first += receivers.length;
    return runSetOf(set, { uvSet, receivers });
  });
  /** What loses nothing of the maps of a kind. */
  const deepEnough = (kind: MapKind) => asDeepAs(sets.map(({ maps }) => maps.get(kind)?.bits ?? 8));
  const format = values.format ? parseFormat(values.format) : deepEnough;
  const inputs = { receivers: objects.flat(), sources: [] };
  const packings = packingsOf(sets);
  const packed = new Set(packings.flatMap(kindsOfPacking));
  const held = new Map<MapKind, Image>();
  const { report, maps, meshes } = await runToFolder(
    'atlas',
    { settings, inputs, sets: runSets },
    {
      ...{ out, format, writesMap: (kind) => !packed.has(kind) },
      onMap: (kind, image) => {
        if (packed.has(kind)) held.set(kind, image);
      },
    },
  );
  for (const packing of packings) {
    const kinds = kindsOfPacking(packing);
    const own = values.format
      ? parseFormat(values.format)
      : asDeepAs(sets.flatMap((set) => kinds.map((kind) => set.maps.get(kind)?.bits ?? 8)));
    maps.push(await writePacked(out, packing, held, own));
  }
  if (values.join && meshes.length > 0) await writeMeshes(path.join(out, `${settings.name}.glb`), meshes);
  for (const [i, { receivers }] of runSets.entries()) {
    if (receivers.length === 0 || values.join) continue;
    const moved = receivers.map((number) => meshes[number]!);
    await writeMeshes(path.join(out, `${nameOf(files[i]!, files, sets[i]!.name)}.glb`), moved);
  }
  const missing = report.neutral.map(({ set, map }) => `${set}: ${describeKind(map).phrase}`);
  await writeReport(out, maps, {
    size,
    gutter: gutterOf(settings),
    filledWithNeutral: missing,
    sets: sets.map(({ name }, i) => {
      const { x, y, width, height } = report.places[i]!;
      const uv = { scale: [width / size.width, height / size.height], offset: [x / size.width, y / size.height] };
      return { name, x, y, width, height, uv };
    }),
  });
  process.stdout.write(
    `${count(sets.length, 'set')}, ${count(maps.length, 'map')} at ${size.width} × ${size.height} px\n`,
  );
  if (missing.length > 0) process.stderr.write(`Filled with the neutral value: ${missing.join('; ')}.\n`);
}

/** How maps share files in the atlas: as they did in the first set in which they did. */
function packingsOf(sets: readonly ImageSet[]): ImagePacking[] {
  const taken = new Set<MapKind>();
  return sets
    .flatMap((set) => set.packings)
    .filter((packing) => {
      const kinds = kindsOfPacking(packing);
      if (kinds.some((kind) => taken.has(kind))) return false;
      for (const kind of kinds) taken.add(kind);
      return true;
    });
}

/** Meshes of one name get that of their set before it. */
function nameOf(file: string, files: readonly string[], set: string): string {
  const { name } = path.parse(file);
  const alike = files.filter((other) => path.parse(other).name === name);
  return alike.length > 1 ? `${set}_${name}` : name;
}
