import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { toLight, type Image } from '@zographos/core/image';
import { forScreen, SKIES, VIEW_TRANSFORMS } from '@zographos/core/light';
import { encodeExrLayers, encodeImage, limitsFrom } from '@zographos/formats/images';
import { count, parseWith } from '@zographos/operations';
import { wearing } from '@zographos/operations/scene';
import { LIGHT_PASSES, lightSettings, renderLight, type LitPass } from '@zographos/operations/light';
import { namesTiles, oneOf, parseSize, parseTiles, positive, required } from '../flags.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { mapsToWear } from '../files/mapsToWear.ts';
import { pictureFile } from '../files/pictureFiles.ts';
import { readOnThread } from '../files/readOnThread.ts';
import { runContext, withThreads } from '../runContext.ts';
import { writeWhole } from '../files/writeWhole.ts';

const FORMATS = ['exr', 'exr16', 'png16', 'png8'] as const;

export const LIGHT_HELP = `cli light: bake the light that a receiver sends, whole or in passes

  --receiver FILE      mesh with UVs whose light is baked (OBJ, glTF, GLB, PLY, STL);
                       may be repeated: all share one layout
  --source FILE        what stands about: it sends, reflects and blocks light; may be
                       repeated. A triangle that the receiver has too counts once
  --set DIR            folder with maps that all receivers wear, in place of
                       what their own materials say of the same
  --out DIR            folder for the pictures and report.json; made if it is not there
  --light WHAT         a light; may be repeated. STRENGTH is one number, or R,G,B
                         sun:ELEVATION,AZIMUTH,ANGLE,STRENGTH  degrees above the horizon,
                           clockwise from north, degrees across; irradiance facing it
                         point:X,Y,Z,STRENGTH  radiant intensity
                         sphere:X,Y,Z,RADIUS,STRENGTH
                         disk:X,Y,Z,TX,TY,TZ,RADIUS,STRENGTH  facing TX,TY,TZ
                         rectangle:X,Y,Z,TX,TY,TZ,WIDTH,HEIGHT,STRENGTH
                         spot:X,Y,Z,TX,TY,TZ,ANGLE,STRENGTH  towards TX,TY,TZ, degrees of
                           the whole cone; radiant intensity along its axis
                       NAME=WHAT puts it into a light group
  --environment WHAT   none, ${SKIES.join(', ')} (clear:ELEVATION of its sun,
                       which is not in it), or a FILE: longitude across, north
                       in the middle, the zenith at the top                   (none)
  --environment-strength F  times what it sends                               (1)
  --environment-turn F  degrees that it is turned by, clockwise from above    (0)
  --up AXIS            x, y or z                                              (y)
  --passes LIST        ${LIGHT_PASSES.join(', ')}
                                                                              (combined)
  --samples N          paths for each texel, 1 to 65536                       (256)
  --noise F            fewer paths will do once the noise of a texel is this
                       share of the mean light, 0 to 1                        (0)
  --bounces N          surfaces between the first and a light, at most        (8)
  --seen-from WHERE    normal: each place along its own normal; or X,Y,Z: one
                       eye                                                    (normal)
  --faces NAME         front, back or both sides of the receiver              (front)
  --denoise F          take noise out over the surface, 0 to 1                (0)
  --uv-window U,V,W,H  the part of the layout that fills the pictures         (0,0,1,1)
  --uv-set N           UV set of the receiver, counted from 1                 (1)
  --size N | WxH       size of the pictures in texels, 16 to 16384            (1024)
  --tiles LIST | all   UDIM tiles                                             (1001)
  --padding N | all    texels to fill beyond the islands                      (16)
  --background HEX     colour beyond the padding                              (black)
  --seed N             random seed                                            (0)
  --format NAME        ${FORMATS.join(', ')}                                  (exr)
  --multilayer         all passes as layers of one file, light.exr
  --view NAME          ${VIEW_TRANSFORMS.join(' or ')}: how light becomes PNG               (srgb)
  --exposure N         doublings of the light before that                     (0)
  --threads N          tracing threads; the result does not depend on it      (all cores)
  --help               this text

Values are linear radiance towards the eye, in the units in which emission is given (MTL Ke, glTF emissive times
strength). An OBJ material with Kd alone is diffuse with that albedo. Surfaces send light from both sides. Without
a light and an environment, only surfaces that send light give any.
`;

/** @throws ZographosError for anything wrong with flags, files or meshes, and where there is no light */
export async function lightCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      receiver: { type: 'string', multiple: true },
      source: { type: 'string', multiple: true },
      set: { type: 'string' },
      out: { type: 'string' },
      light: { type: 'string', multiple: true },
      environment: { type: 'string', default: 'none' },
      'environment-strength': { type: 'string', default: '1' },
      'environment-turn': { type: 'string', default: '0' },
      tiles: { type: 'string' },
      background: { type: 'string' },
      up: { type: 'string', default: 'y' },
      passes: { type: 'string', default: 'combined' },
      samples: { type: 'string', default: '256' },
      noise: { type: 'string', default: '0' },
      bounces: { type: 'string', default: '8' },
      'seen-from': { type: 'string', default: 'normal' },
      faces: { type: 'string', default: 'front' },
      denoise: { type: 'string', default: '0' },
      'uv-window': { type: 'string', default: '0,0,1,1' },
      'uv-set': { type: 'string', default: '1' },
      size: { type: 'string', default: '1024' },
      padding: { type: 'string', default: '16' },
      seed: { type: 'string', default: '0' },
      format: { type: 'string', default: 'exr' },
      multilayer: { type: 'boolean', default: false },
      view: { type: 'string', default: 'srgb' },
      exposure: { type: 'string', default: '0' },
      threads: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  required(values.receiver?.[0], 'receiver');
  const format = oneOf('format', values.format, FORMATS);
  const view = oneOf('view', values.view, VIEW_TRANSFORMS);
  const exposure = numbersOf('exposure', values.exposure, 1)[0]!;
  if (values.multilayer && !format.startsWith('exr')) {
    throw new ZographosError('input/bad-settings', '--multilayer needs --format exr or exr16: PNG has no layers.');
  }
  const environment = environmentOf(values.environment);
  const settings = parseWith(lightSettings, {
    size: parseSize(values.size),
    passes: values.passes.split(','),
    samples: Number(values.samples),
    noise: Number(values.noise),
    bounces: Number(values.bounces),
    lights: (values.light ?? []).map(parseLight),
    environment: environment.settings,
    environmentStrength: Number(values['environment-strength']),
    environmentTurn: Number(values['environment-turn']),
    tiles: parseTiles(values.tiles),
    ...(values.background === undefined ? {} : { background: values.background }),
    up: values.up,
    seenFrom: values['seen-from'] === 'normal' ? 'normal' : numbersOf('seen-from', values['seen-from'], 3),
    faces: values.faces,
    denoise: Number(values.denoise),
    uvWindow: numbersOf('uv-window', values['uv-window'], 4),
    uvSet: positive(values['uv-set'], 'uv-set') - 1,
    padding: values.padding === 'all' ? 'all' : Number(values.padding),
    seed: Number(values.seed),
  });
  const load = async (files: readonly string[] = []) =>
    (await Promise.all(files.map((file) => loadMeshes(file)))).flat();
  const [bare, sources] = [await load(values.receiver), await load(values.source)];
  const meshes = bare.map(({ mesh }) => mesh);
  const worn = values.set === undefined ? [] : await mapsToWear(values.set, meshes, settings.uvSet);
  const receivers = meshes.map((mesh) => wearing(mesh, settings.uvSet, worn));
  const picture = environment.file === null ? null : await lightPicture(environment.file);
  const threads = values.threads === undefined ? undefined : positive(values.threads, 'threads');
  const writer = new LightWriter(out, {
    ...{ format, multilayer: values.multilayer, view, exposure },
    namesTiles: namesTiles(settings.tiles),
  });
  const report = await withThreads(() =>
    renderLight({
      ...runContext(threads),
      ...{ settings, receivers, environment: picture },
      sources: sources.map(({ mesh }) => mesh),
      onPass: (pass) => writer.put(pass),
    }),
  );
  const written = await writer.finish();
  await writeWhole(
    path.join(out, 'report.json'),
    `${JSON.stringify({ ...report, settings, pictures: written }, null, 2)}\n`,
  );
  for (const { sentence } of report.findings) process.stderr.write(`${sentence}\n`);
  process.stdout.write(
    `${count(writer.passes, 'pass', 'passes')} of ${settings.size.width} × ${settings.size.height} px, ${report.samples} samples, noise ${(report.noise * 100).toFixed(1)} %, in ${report.seconds.total.toFixed(1)} s\n`,
  );
}

/** A picture of the surroundings, as light. @throws missing/not-found, input/unreadable-file */
async function lightPicture(file: string): Promise<Image> {
  const { name, bytes } = await pictureFile(file);
  const image = await readOnThread({ kind: 'image', name, bytes, limits: limitsFrom(process.env) });
  // Files of floats hold light; others hold what a screen shows of it.
  if (!/\.(exr|hdr)$/i.test(name)) toLight(image);
  return image;
}

function environmentOf(text: string): { settings: unknown; file: string | null } {
  const [name = '', elevation] = text.split(':');
  if (name === 'none') return { settings: { kind: 'none' }, file: null };
  if (!SKIES.some((sky) => sky === name)) return { settings: { kind: 'picture' }, file: text };
  return { settings: { kind: name, ...(elevation === undefined ? {} : { elevation: Number(elevation) }) }, file: null };
}

/** How many numbers a light has before its strength, and what they are. */
const LIGHTS: Record<string, { count: number; of: (n: number[]) => object }> = {
  sun: { count: 3, of: ([elevation, azimuth, angle]) => ({ elevation, azimuth, angle }) },
  point: { count: 3, of: (n) => ({ position: n.slice(0, 3) }) },
  sphere: { count: 4, of: (n) => ({ position: n.slice(0, 3), radius: n[3] }) },
  disk: { count: 7, of: (n) => ({ position: n.slice(0, 3), target: n.slice(3, 6), radius: n[6] }) },
  rectangle: {
    count: 8,
    of: (n) => ({ position: n.slice(0, 3), target: n.slice(3, 6), width: n[6], height: n[7] }),
  },
  spot: { count: 7, of: (n) => ({ position: n.slice(0, 3), target: n.slice(3, 6), angle: n[6] }) },
};

/** A light as the flag has it. @example parseLight('lantern=point:0,2,0,8').group // 'lantern' */
function parseLight(text: string): unknown {
  const [, group, kind = '', rest = ''] = /^(?:([^=:]+)=)?([^:]*):?(.*)$/.exec(text) ?? [];
  const known = LIGHTS[kind];
  if (!known) {
    const words = Object.keys(LIGHTS).map((each) => `${each}:…`);
    throw new ZographosError(
      'input/bad-settings',
      `--light takes ${words.slice(0, -1).join(', ')} or ${words.at(-1)!}, not “${text}”. See --help.`,
    );
  }
  const { count, of } = known;
  const given = rest.split(',').length;
  if (given !== count + 1 && given !== count + 3) {
    throw new ZographosError(
      'input/bad-settings',
      `--light ${kind}: takes ${count} numbers and a strength of one or three, not ${given} in all. See --help.`,
    );
  }
  const n = numbersOf('light', rest, given);
  const strength = given === count + 1 ? [n[count], n[count], n[count]] : n.slice(count);
  return { kind, ...of(n), strength, ...(group === undefined ? {} : { group }) };
}

function numbersOf(flag: string, text: string, count: number): number[] {
  const numbers = text.split(',').map(Number);
  if (numbers.length === count && numbers.every(Number.isFinite)) return numbers;
  throw new ZographosError(
    'input/bad-settings',
    `--${flag} takes ${count === 1 ? 'a number' : `${count} numbers with commas`}, not “${text}”.`,
  );
}

/** What was written: a file with its passes. */
interface WrittenLight {
  file: string;
  passes: string[];
}

interface WritingLight {
  format: (typeof FORMATS)[number];
  multilayer: boolean;
  view: (typeof VIEW_TRANSFORMS)[number];
  exposure: number;
  /** Whether tile numbers stand in names. */
  namesTiles: boolean;
}

/** Writes one file for each pass as it comes, or one for all passes of a tile. */
class LightWriter {
  passes = 0;
  private readonly written: WrittenLight[] = [];
  private readonly folder: string;
  private readonly options: WritingLight;
  private readonly layers = new Map<number, [name: string, image: Image][]>();

  constructor(folder: string, options: WritingLight) {
    this.folder = folder;
    this.options = options;
  }

  async put({ name, tile, image }: LitPass): Promise<void> {
    this.passes++;
    const { format, multilayer, view, exposure } = this.options;
    if (multilayer) {
      const layers = this.layers.get(tile) ?? [];
      this.layers.set(tile, [...layers, [name === 'combined' ? '' : name, image]]);
      return;
    }
    const isFloat = format.startsWith('exr');
    const file = this.fileOf(name, tile, isFloat ? 'exr' : 'png');
    const shown = image.channels === 3 && !isFloat ? forScreen(image, view, exposure) : image;
    await mkdir(this.folder, { recursive: true });
    await writeWhole(path.join(this.folder, file), await encodeImage(shown, format));
    this.written.push({ file, passes: [name] });
  }

  /** Writes what waits for all its layers. @returns what the files are, for the report */
  async finish(): Promise<WrittenLight[]> {
    await mkdir(this.folder, { recursive: true });
    for (const [tile, layers] of this.layers) {
      const file = this.fileOf('light', tile, 'exr');
      const bytes = encodeExrLayers(layers, this.options.format === 'exr' ? 'float' : 'half');
      await writeWhole(path.join(this.folder, file), bytes);
      this.written.push({ file, passes: layers.map(([name]) => name || 'combined') });
    }
    return this.written;
  }

  private fileOf(name: string, tile: number, ending: string): string {
    return `${name}${this.options.namesTiles ? `.${tile}` : ''}.${ending}`;
  }
}
