import { parseArgs } from 'node:util';
import { BAKED_KINDS, ZographosError } from '@zographos/core';
import { IMAGE_FORMAT_NAMES, type ImageFormat } from '@zographos/formats/images';
import { DEFAULT_BAKE, eachInput, parseSettings } from '@zographos/operations';
import { bakeToFolder } from './bakeToFolder.ts';
import { loadMesh } from './meshFiles.ts';

export const BAKE_HELP = `cli bake: bake maps of a receiver from one or more sources

  --receiver FILE      light mesh with UVs that carries the maps (OBJ, glTF, GLB, PLY, STL)
  --source FILE        mesh that gives the detail; may be repeated
  --out DIR            folder for the maps and report.json; made if it is not there
  --maps LIST          maps to bake, separated by commas                   (normal):
                       ${BAKED_KINDS.join(', ')}
  --size N | WxH       size of the maps in texels, 16 to 16384             (1024)
  --reach auto         measure how far rays must reach                     (auto)
  --reach-out L        how far outside the receiver rays start, mesh units
  --reach-in L         how far inside the receiver rays end, mesh units
  --cage FILE          the receiver pushed outwards: rays start on it, not at --reach-out
  --samples N          N x N samples per texel, 1 to 8                     (4)
  --padding N | all    texels to fill beyond the islands                   (16)
  --space NAME         tangent (MikkTSpace) or object                      (tangent)
  --normal-y NAME      up or down: where the green channel points          (up)
  --uv-set N           UV set of the receiver, counted from 1              (1)
  --back-faces NAME    ignore or accept hits on the back of the source     (ignore)
  --direction NAME     rays along smooth normals, or split as the mesh's   (smooth)
  --rays N             occlusion and thickness rays per sample, 1 to 4096  (64)
  --spread NAME        cosine-weighted or uniform rays                     (cosine)
  --max-distance L     how far occlusion and thickness rays look           (unlimited)
  --fall-off           what lies farther occludes less
  --one-sided          backs of surfaces do not occlude
  --height-span L      mesh units from black to white in whole numbers     (auto)
  --height-mid N       value of the receiver's surface there, 0 to 1       (0.5)
  --curvature NAME     both, convex or concave                             (both)
  --curvature-radius L curvature is averaged within this distance          (auto)
  --id NAME            colours tell apart: slot, object or part            (slot)
  --seed N             another number gives other noise                    (0)
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}                     (png16)
  --threads N          tracing threads; the result does not depend on it   (all cores)
  --help               this text

Lengths are in the units of the mesh files. Exit code 0, or 2 with one sentence on stderr for bad input.
Limits are set by ZOGRAPHOS_MAX_TRIANGLES, ZOGRAPHOS_MAX_BYTES and ZOGRAPHOS_MAX_MEMORY_MB.
`;

/** @throws ZographosError for anything wrong with flags, files or meshes */
export async function bakeCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      receiver: { type: 'string' },
      source: { type: 'string', multiple: true },
      out: { type: 'string' },
      maps: { type: 'string', default: 'normal' },
      size: { type: 'string', default: '1024' },
      reach: { type: 'string' },
      cage: { type: 'string' },
      'reach-out': { type: 'string' },
      'reach-in': { type: 'string' },
      samples: { type: 'string', default: '4' },
      padding: { type: 'string', default: '16' },
      space: { type: 'string', default: 'tangent' },
      'normal-y': { type: 'string', default: 'up' },
      'uv-set': { type: 'string', default: '1' },
      'back-faces': { type: 'string', default: 'ignore' },
      direction: { type: 'string', default: 'smooth' },
      rays: { type: 'string', default: '64' },
      spread: { type: 'string', default: 'cosine' },
      'max-distance': { type: 'string' },
      'fall-off': { type: 'boolean', default: false },
      'one-sided': { type: 'boolean', default: false },
      'height-span': { type: 'string' },
      'height-mid': { type: 'string', default: '0.5' },
      curvature: { type: 'string', default: 'both' },
      'curvature-radius': { type: 'string' },
      id: { type: 'string', default: 'slot' },
      seed: { type: 'string', default: '0' },
      format: { type: 'string', default: 'png16' },
      threads: { type: 'string' },
    },
  });
  const receiver = required(values.receiver, 'receiver');
  const out = required(values.out, 'out');
  const sources = values.source ?? [];
  if (sources.length === 0) required(undefined, 'source');
  const settings = parseSettings('bake', {
    ...DEFAULT_BAKE,
    maps: values.maps.split(','),
    size: parseSize(values.size),
    reach: parseReach(values.reach, values['reach-out'], values['reach-in']),
    samples: Number(values.samples),
    padding: values.padding === 'all' ? 'all' : Number(values.padding),
    normal: { space: values.space, y: values['normal-y'] },
    uvSet: Number(values['uv-set']) - 1,
    backFaces: values['back-faces'],
    direction: values.direction,
    occlusion: {
      rays: Number(values.rays),
      spread: values.spread,
      distance: lengthOr('unlimited', values['max-distance'], 'max-distance'),
      fallOff: values['fall-off'],
      twoSided: !values['one-sided'],
    },
    height: {
      mid: Number(values['height-mid']),
      span: lengthOr('auto', values['height-span'], 'height-span'),
    },
    curvature: {
      show: values.curvature,
      radius: lengthOr('auto', values['curvature-radius'], 'curvature-radius'),
    },
    id: values.id,
    seed: Number(values.seed),
  });
  await bakeToFolder({
    settings,
    load: () => eachInput({ receiver, sources, cage: values.cage }, (file) => loadMesh(file)),
    format: parseFormat(values.format),
    out,
    ...(values.threads ? { threads: positive(values.threads, 'threads') } : {}),
  });
}

export function required(value: string | undefined, flag: string): string {
  if (value) return value;
  throw new ZographosError('input/bad-settings', `The flag --${flag} is missing. See --help for all flags.`);
}

/** @throws input/bad-settings for a format that is not known */
export function parseFormat(name: string): ImageFormat {
  const format = IMAGE_FORMAT_NAMES.find((known) => known === name);
  if (format) return format;
  throw new ZographosError(
    'input/bad-settings',
    `There is no format “${name}”. Choose one of: ${IMAGE_FORMAT_NAMES.join(', ')}.`,
  );
}

function parseSize(text: string): { width: number; height: number } {
  const match = /^(\d+)(?:x(\d+))?$/.exec(text);
  if (!match) throw new ZographosError('input/bad-settings', `“${text}” is not a size. Write 1024 or 2048x1024.`);
  const width = Number(match[1]);
  return { width, height: Number(match[2] ?? width) };
}

function parseReach(reach: string | undefined, out: string | undefined, into: string | undefined): unknown {
  if (reach !== undefined && reach !== 'auto') {
    throw new ZographosError(
      'input/bad-settings',
      `--reach takes only “auto”. Give lengths with --reach-out and --reach-in.`,
    );
  }
  if (out === undefined && into === undefined) return 'auto';
  if (reach === 'auto') {
    throw new ZographosError('input/bad-settings', 'Give either --reach auto, or --reach-out and --reach-in.');
  }
  return { out: length(required(out, 'reach-out'), 'reach-out'), in: length(required(into, 'reach-in'), 'reach-in') };
}

function lengthOr<Word extends string>(word: Word, text: string | undefined, flag: string): number | Word {
  return text === undefined || text === word ? word : length(text, flag);
}

function length(text: string, flag: string): number {
  const value = Number(text);
  if (Number.isFinite(value) && value >= 0) return value;
  throw new ZographosError('input/bad-settings', `--${flag} takes a length in mesh units of 0 or more, not “${text}”.`);
}

function positive(text: string, flag: string): number {
  const value = Number(text);
  if (Number.isInteger(value) && value > 0 && value <= 256) return value;
  throw new ZographosError('input/bad-settings', `--${flag} takes a whole number from 1 to 256, not “${text}”.`);
}
