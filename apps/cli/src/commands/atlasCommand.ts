import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { composeSheet, inRows, moveToPlace, onShelves } from '@zographos/core/atlas';
import { ZographosError } from '@zographos/core/errors';
import { MAP_KINDS } from '@zographos/core/image';
import { encodeImage, IMAGE_FORMAT_NAMES, IMAGE_FORMATS } from '@zographos/formats/images';
import { oneOf, parseFormat, parseSize, required } from '../flags.ts';
import { asDeepAs, readSet } from '../files/imageSetFolder.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { writeMeshes } from '../files/writeMeshes.ts';

export const SHEET_HELP = `cli sheet: put whole image sets into one larger sheet, texel for texel

  --set DIR            folder with the maps of one set, each named by its kind, as
                       basecolor.png or bell_normal.png; may be repeated
  --meshes FILE        the mesh of each set, in the order of the sets; may be repeated
  --out DIR            folder for the maps, the meshes with moved UVs and sheet.json
  --size N | WxH       size of the sheet                                   (4096)
  --layout NAME        grid: equal squares in rows from the bottom left;
                       packed: mixed sizes on shelves                      (grid)
  --mips N             a gutter around each set that keeps so many halvings
                       from bleeding: 2^N px                               (none)
  --uv-set N           UV set that is moved, counted from 1                (1)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                                           (png, as deep as what comes in)
  --help               this text
`;

export async function sheetCommand(args: string[]): Promise<void> {
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
      format: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  if (!values.set?.length) required(undefined, 'set');
  const size = parseSize(values.size);
  const gutter = values.mips === undefined ? 0 : 2 ** Number(values.mips);
  if (!Number.isInteger(gutter) || gutter > 1024) {
    throw new ZographosError(
      'input/bad-settings',
      `--mips takes a number of halvings from 0 to 10, not “${values.mips}”.`,
    );
  }
  const place = { grid: inRows, packed: onShelves }[oneOf('layout', values.layout, ['grid', 'packed'])];
  const files = values.meshes ?? [];
  if (files.length > 0 && files.length !== values.set!.length) {
    throw new ZographosError(
      'input/bad-settings',
      `There are ${values.set!.length} sets and ${files.length} meshes. Give the mesh of each set, in the same order, or none.`,
    );
  }
  const sets = await Promise.all(values.set!.map(readSet));
  const places = place(sets, size, gutter);
  const uvSet = Number(values['uv-set']) - 1;
  // All meshes are moved before anything is written: one that is refused leaves nothing half done.
  const moved = await Promise.all(
    files.map(async (file, i) => ({
      file: nameOf(file, files, sets[i]!.name),
      meshes: (await loadMeshes(file)).map(({ mesh }) => moveToPlace(mesh, uvSet, places[i]!, size)),
    })),
  );
  await mkdir(out, { recursive: true });
  const kinds = MAP_KINDS.filter((kind) => sets.some(({ maps }) => maps.has(kind)));
  const missing: string[] = [];
  for (const kind of kinds) {
    const maps = sets.map((set) => set.maps.get(kind));
    for (const { name } of sets.filter((set) => !set.maps.has(kind))) missing.push(`${name}: ${kind}`);
    const format = values.format ? parseFormat(values.format) : asDeepAs(maps.map((map) => map?.bits ?? 8));
    const sheet = composeSheet(
      kind,
      maps.map((map) => map?.image ?? null),
      places,
      size,
      gutter,
    );
    await writeFile(path.join(out, `${kind}.${IMAGE_FORMATS[format].ending}`), await encodeImage(sheet, format));
  }
  for (const { file, meshes } of moved) await writeMeshes(path.join(out, `${file}.glb`), meshes);
  const report = {
    size,
    gutter,
    maps: kinds,
    filledWithNeutral: missing,
    sets: sets.map(({ name }, i) => {
      const { x, y, width, height } = places[i]!;
      const uv = { scale: [width / size.width, height / size.height], offset: [x / size.width, y / size.height] };
      return { name, x, y, width, height, uv };
    }),
  };
  await writeFile(path.join(out, 'sheet.json'), `${JSON.stringify(report, null, 2)}\n`);
  process.stdout.write(`${sets.length} sets, ${kinds.length} maps at ${size.width} × ${size.height} px\n`);
  if (missing.length > 0) process.stderr.write(`Filled with their neutral value: ${missing.join('; ')}.\n`);
}

/** Meshes of one name get that of their set before it. */
function nameOf(file: string, files: readonly string[], set: string): string {
  const { name } = path.parse(file);
  const alike = files.filter((other) => path.parse(other).name === name);
  return alike.length > 1 ? `${set}_${name}` : name;
}
