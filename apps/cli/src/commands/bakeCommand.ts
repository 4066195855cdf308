import { parseArgs } from 'node:util';
import { BAKED_KINDS } from '@zographos/core/image';
import { DEFAULT_BAKE, parseSettings, USUAL_ENDINGS } from '@zographos/operations';
import { bakeToFolder } from '../files/runToFolder.ts';
import {
  lengthOr,
  namesTiles,
  parseDirection,
  parseOccluders,
  parseReach,
  parseRepeat,
  parseSize,
  parseTiles,
  parseTileSizes,
  positive,
  required,
  WRITING_FLAGS,
  writingHelp,
  writingOf,
} from '../flags.ts';
import { loadInputs } from '../files/meshFiles.ts';
import { pictureFile } from '../files/pictureFiles.ts';

export const BAKE_HELP = `cli bake: bake maps of a receiver from one or more sources

  --receiver FILE      low-poly mesh with UVs that gets the maps (OBJ, glTF, GLB, PLY, STL);
                       may be repeated: all share one layout
  --source FILE        high-poly mesh with the detail; may be repeated
  --out DIR            folder for the maps and report.json; made if it is not there
  --maps LIST          maps to bake, separated by commas                   (normal):
                       ${BAKED_KINDS.join(', ')}
  --size N | WxH       size of the maps in texels, 16 to 16384             (1024)
  --tiles LIST | all   UDIM tiles to bake; files then carry their numbers  (1001)
  --tile-size N=WxH    a tile with a size of its own; may be repeated
  --supersampling N    bake at 2 or 4 times the size and scale down        (1)
  --reach NAME         auto measures how far rays must reach, fitted does
                       so for each vertex                                  (auto)
  --reach-out L        how far outside the receiver rays start, mesh units
  --reach-in L         how far inside the receiver rays end, mesh units
  --cage FILE          the receiver pushed outwards: rays start on it, not at --reach-out
  --match-by-name      each receiver sees only the sources of its name
  --source-scale F     factor by which the sources are scaled              (1)
  --receiver-ending E  suffix removed from receiver names before matching,
                       e.g. _low; may be repeated                          (_low, _light)
  --source-ending E    the same for sources                                (_high, _dense)
  --aim NAME           rays; nearest: nearest surface point; shared: shared
                       triangles                                           (rays)
  --repeat PATTERN     repeat the source over the tile so that the map
                       tiles: square:4x4, staggered:4x6, hexagonal:5       (none)
  --samples N          N x N samples per texel, 1 to 8                     (4)
  --padding N | all    texels to fill beyond the islands                   (16)
  --mend-seams         mend seams: both sides match under texture filtering
  --space NAME         tangent (MikkTSpace) or object                      (tangent)
  --normal-y NAME      up or down: where the green channel points          (up)
  --axes ORDER         axes in red, green and blue: xyz, xzy, …            (xyz)
  --uv-set N           UV set of the receiver, counted from 1              (1)
  --back-faces NAME    ignore, accept or flip hits on the source's back    (ignore)
  --direction NAME     smooth: averaged normals; split: mesh normals;
                       blend: averaged near hard edges                     (smooth)
  --blend-width L      width of that blend, mesh units                     (auto)
  --direction-mask F   a picture over the layout instead: white where rays
                       follow the mesh's own normals
  --rays N             occlusion and thickness rays per sample, 1 to 4096  (64)
  --spread NAME        cosine-weighted or uniform rays                     (cosine)
  --max-distance L     max. distance of occlusion and thickness rays       (unlimited)
  --fall-off           distance fall-off: what is farther away occludes less
  --one-sided          back faces do not occlude
  --occluders WHAT     occluders: own (matched sources), all, or names     (own)
  --smooth-occlusion N denoise within N texels, never across islands       (0)
  --height-span L      height range in 8- and 16-bit files, mesh units     (auto)
  --height-mid N       value of the receiver's surface there, 0 to 1       (0.5)
  --curvature NAME     both, convex or concave                             (both)
  --curvature-radius L smoothing radius of curvature                       (auto)
  --gradient D         direction of the position gradient: x, y, z or X,Y,Z (y)
  --sky-up D           up, for sky and sun maps: x, y, z or X,Y,Z               (y)
  --sky-angle N        half angle of the cone of sky that counts           (90)
  --sun-north D        north, for the sun map: x, y, z or X,Y,Z            (0,0,-1)
  --sun-latitude N     degrees, -90 to 90; below 0 in the south            (50)
  --sun-season NAME    year, summer or winter                              (year)
  --id NAME            ID colours by: slot, object, part or color (vertex) (slot)
  --seed N             random seed                                         (0)
  --no-proof           do not check the result
${writingHelp('png16')}  --threads N          tracing threads; the result does not depend on it   (all cores)
  --help               this text

Lengths are in the units of the mesh files. Exit code 0, or 2 with one sentence on stderr for bad input.
Limits are set by ZOGRAPHOS_MAX_TRIANGLES, ZOGRAPHOS_MAX_BYTES and ZOGRAPHOS_MAX_MEMORY_MB.
`;

/** @throws ZographosError for anything wrong with flags, files or meshes */
export async function bakeCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      receiver: { type: 'string', multiple: true },
      source: { type: 'string', multiple: true },
      out: { type: 'string' },
      maps: { type: 'string', default: 'normal' },
      size: { type: 'string', default: '1024' },
      tiles: { type: 'string' },
      'tile-size': { type: 'string', multiple: true },
      supersampling: { type: 'string' },
      oversize: { type: 'string' },
      reach: { type: 'string' },
      'match-by-name': { type: 'boolean', default: false },
      'receiver-ending': { type: 'string', multiple: true },
      'source-ending': { type: 'string', multiple: true },
      'source-scale': { type: 'string', default: '1' },
      aim: { type: 'string', default: 'rays' },
      repeat: { type: 'string' },
      'mend-seams': { type: 'boolean', default: false },
      axes: { type: 'string', default: 'xyz' },
      'blend-width': { type: 'string' },
      'direction-mask': { type: 'string' },
      occluders: { type: 'string', default: 'own' },
      'smooth-occlusion': { type: 'string', default: '0' },
      gradient: { type: 'string', default: 'y' },
      'sky-up': { type: 'string' },
      'sky-angle': { type: 'string' },
      'sun-north': { type: 'string' },
      'sun-latitude': { type: 'string' },
      'sun-season': { type: 'string' },
      'no-proof': { type: 'boolean', default: false },
      ...WRITING_FLAGS,
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
      threads: { type: 'string' },
    },
  });
  const receivers = values.receiver ?? [];
  if (receivers.length === 0) required(undefined, 'receiver');
  const out = required(values.out, 'out');
  const sources = values.source ?? [];
  if (sources.length === 0) required(undefined, 'source');
  const settings = parseSettings('bake', {
    ...DEFAULT_BAKE,
    maps: values.maps.split(','),
    size: parseSize(values.size),
    tiles: parseTiles(values.tiles),
    tileSizes: parseTileSizes(values['tile-size'] ?? []),
    oversize: Number(values.supersampling ?? values.oversize ?? 1),
    sourceScale: Number(values['source-scale']),
    aim: values.aim,
    repeat: parseRepeat(values.repeat),
    mend: values['mend-seams'],
    match: values['match-by-name']
      ? {
          receiverEndings: values['receiver-ending'] ?? USUAL_ENDINGS.receiverEndings,
          sourceEndings: values['source-ending'] ?? USUAL_ENDINGS.sourceEndings,
        }
      : 'all',
    blendWidth: lengthOr('auto', values['blend-width'], 'blend-width'),
    gradient: parseDirection(values.gradient),
    ...(values['sky-up'] || values['sky-angle']
      ? { sky: { up: parseDirection(values['sky-up'] ?? 'y'), angle: Number(values['sky-angle'] ?? 90) } }
      : {}),
    ...(values['sun-north'] || values['sun-latitude'] || values['sun-season']
      ? {
          sun: {
            up: parseDirection(values['sky-up'] ?? 'y'),
            north: parseDirection(values['sun-north'] ?? '0,0,-1'),
            latitude: Number(values['sun-latitude'] ?? 50),
            season: values['sun-season'] ?? 'year',
          },
        }
      : {}),
    prove: !values['no-proof'],
    reach: parseReach(values.reach, values['reach-out'], values['reach-in']),
    samples: Number(values.samples),
    padding: values.padding === 'all' ? 'all' : Number(values.padding),
    normal: { space: values.space, y: values['normal-y'], axes: values.axes },
    uvSet: Number(values['uv-set']) - 1,
    backFaces: values['back-faces'],
    direction: values['direction-mask'] ? 'blend' : values.direction,
    occlusion: {
      rays: Number(values.rays),
      spread: values.spread,
      distance: lengthOr('unlimited', values['max-distance'], 'max-distance'),
      fallOff: values['fall-off'],
      twoSided: !values['one-sided'],
      occluders: parseOccluders(values.occluders),
      smooth: Number(values['smooth-occlusion']),
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
  const started = performance.now();
  const inputs = await loadInputs({
    receivers: receivers.map((file) => ({ file })),
    sources: sources.map((file) => ({ file })),
    ...(values.cage ? { cage: { file: values.cage } } : {}),
  });
  const mask = values['direction-mask'] ? await pictureFile(values['direction-mask']) : null;
  await bakeToFolder(
    { settings, inputs, mask },
    {
      ...{ started, out, namesTiles: namesTiles(settings.tiles), ...writingOf(values, 'png16') },
      threads: values.threads ? positive(values.threads, 'threads') : undefined,
    },
  );
}
