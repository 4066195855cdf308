import { padIslands, planBlocks, prepareReceiver } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import {
  accumulatedPerTexel,
  denoise,
  emittersOf,
  GUIDES,
  type LightScene,
  type LightWork,
} from '@zographos/core/light';
import { boundsOf, diagonal } from '@zographos/core/mesh';
import { sharedFloat32, sharedUint16, sharedUint8 } from '@zographos/core/shared-arrays';
import { islandsOf } from '@zographos/core/uv';
import { throwIfCancelled, type RunResources } from '../runContext.ts';
import { hashedMesh, type RunMesh } from '../scene/runMesh.ts';
import { builtScene } from '../scene/sceneCache.ts';
import { sourceMaterials } from '../scene/sourceMaterials.ts';
import type { SceneTree } from '../scene/sceneTree.ts';
import { BlockPool, type BlockShare } from '../threads/blockPool.ts';
import { litMeshes } from './litMeshes.ts';
import { isLamp, lampMesh } from './lampMeshes.ts';
import { groupOf, measured, passOf } from './lightPasses.ts';
import { environmentFor, groupNames, groupNumbers, placedLights, requireGlass, requireLight } from './placedLights.ts';
import type { LightReport } from './report.ts';
import type { LightSettings } from './settings.ts';

/** Everything a thread needs to take part; all arrays are shared memory. */
export interface LightJob {
  work: LightWork;
  tree: SceneTree;
  /** Numbers of the samples to take, the last not among them. */
  from: number;
  to: number;
}
export type LightShare = LightJob & BlockShare;
/** What a thread has done: rays it has cast, and texels that lie in two triangles at once. */
export interface LightAnswer {
  cast: number;
  overlapping: number;
}

const pool = new BlockPool<LightJob, LightAnswer>('./lightThread', import.meta.url);

/** Ends the warm threads, so that the process can end. */
export const closeLightPool = (): Promise<void> => pool.close();

/** What a light bake is given. */
export interface LightContext extends RunResources {
  settings: LightSettings;
  receivers: readonly RunMesh[];
  sources: readonly RunMesh[];
  /** Of the settings' environment, where it is one; as light. */
  environment: Image | null;
}

/** What a light bake has made: a picture for each pass, and how sure it is. */
export interface LitMaps {
  passes: [name: string, image: Image][];
  states: Uint8Array;
  report: LightReport;
}

/** Rounds of samples: a first look, then ever more. */
const ROUND = 4;

/**
 * Lights the receivers and makes pictures of it on their layout.
 * @throws input/bad-settings where there is no light at all, or the environment is none; limit/memory; input/no-uvs;
 * run/cancelled
 */
export async function renderLight(context: LightContext): Promise<LitMaps> {
  const { settings, threads, cancelFlag, onProgress } = context;
  const started = performance.now();
  requireMemory(context);
  pool.warmUp(threads);
  const receivers = context.receivers.map(({ mesh }) => mesh);
  const lamps = settings.lights.flatMap((light, i) => (isLamp(light) ? [{ number: i, mesh: lampMesh(light) }] : []));
  const meshes = [
    ...litMeshes(
      receivers,
      context.sources.map(({ mesh }) => mesh),
    ),
    ...lamps.map(({ mesh }) => mesh),
  ];
  onProgress({ stage: 'build', share: 0, secondsLeft: null });
  const { scene, tree } = builtScene([meshes.map(hashedMesh)], threads, () => throwIfCancelled(cancelFlag));
  const materials = await sourceMaterials(
    meshes,
    meshes.some((mesh) => mesh.materials?.some(({ pictures }) => pictures.normal)),
  );
  const countsGroups = settings.passes.includes('groups');
  const names = countsGroups ? groupNames(settings) : ['all'];
  const light: LightScene = {
    ...{ scene, materials, emitters: emittersOf(scene, materials), extent: diagonal(boundsOf(scene.positions)) },
    ...groupsOfMaterials(materials.materials.length, lamps, settings),
    oneSided: Uint8Array.from(materials.materials, ({ lit }) => (lit?.isOneSided ? 1 : 0)),
    environment: environmentFor(settings, context.environment),
    ...placedLights(settings, countsGroups ? groupNumbers(settings) : settings.lights.map(() => 0)),
  };
  requireLight(light);
  requireGlass(materials.materials);
  const receiver = prepareReceiver(
    meshes.slice(0, receivers.length).map((mesh) => ({ mesh, group: 0 })),
    settings.uvSet,
    'split',
    false,
  );
  moveIntoWindow(receiver.uvs, settings.uvWindow);
  const { size } = settings;
  const plan = planBlocks(receiver.uvs, receiver.indices, size);
  const stride = accumulatedPerTexel(names.length);
  const texels = size.width * size.height;
  const work: LightWork = {
    ...{ light, receiver, firstTriangle: 0, plan },
    islandOf: islandsOf(receiver.positions, receiver.uvs, receiver.indices),
    settings: {
      seenFrom: settings.seenFrom === 'normal' ? { from: 'normal' } : { from: 'eye', place: settings.seenFrom },
      ...{ faces: settings.faces, bounces: settings.bounces, groups: names.length, seed: settings.seed },
      seesSky: settings.passes.includes('sky'),
    },
    target: {
      sums: sharedFloat32(texels * stride),
      differences: sharedFloat32(texels),
      states: sharedUint8(texels),
      islands: sharedUint16(texels),
      guides: settings.denoise > 0 ? sharedFloat32(texels * GUIDES) : null,
    },
  };
  const buildSeconds = (performance.now() - started) / 1000;
  const begun = performance.now();
  let rays = 0;
  let overlapping = 0;
  let taken = 0;
  while (taken < settings.samples && !isSureEnough(work, taken, stride, settings)) {
    const from = taken;
    const to = Math.min(settings.samples, from === 0 ? ROUND : from * 4);
    const answers = await pool.run({ work, tree, from, to }, plan.columns * plan.rows, threads, cancelFlag, (share) => {
      const done = (from + (to - from) * share) / settings.samples;
      const seconds = (performance.now() - begun) / 1000;
      onProgress({ stage: 'trace', share: done, secondsLeft: done > 0.01 ? (seconds / done) * (1 - done) : null });
    });
    rays += answers.reduce((sum, { cast }) => sum + cast, 0);
    if (from === 0) overlapping = answers.reduce((sum, answer) => sum + answer.overlapping, 0);
    taken = to;
  }
  const traceSeconds = (performance.now() - begun) / 1000;
  const report = measured(work, taken, stride);
  if (report.texels === 0) {
    throw new ZographosError(
      'input/outside-tile',
      'No texel is covered: the receiver’s UVs lie outside the tile 0 to 1. Move its islands into it, or choose another UV set.',
    );
  }
  denoise(work.target, size, stride, settings.denoise, () => throwIfCancelled(cancelFlag));
  const passes = settings.passes.flatMap((pass): [name: string, image: Image][] =>
    pass === 'groups'
      ? names.map((name, group) => [`group-${name}`, groupOf(group, work, taken, stride)])
      : [[pass, passOf(pass, work, taken, stride)]],
  );
  onProgress({ stage: 'pad', share: 1, secondsLeft: null });
  const { states, islands } = work.target;
  const planes = [...passes.map(([, image]) => image), { ...size, channels: 1, data: islands! }];
  padIslands(planes, states, settings.padding === 'all' ? Infinity : settings.padding);
  const total = (performance.now() - started) / 1000;
  return {
    passes,
    states,
    report: { ...report, rays, overlapping, seconds: { build: buildSeconds, trace: traceSeconds, total } },
  };
}

/** Whether the noise that is asked for has been reached, where one is. */
const isSureEnough = (work: LightWork, taken: number, stride: number, { noise }: LightSettings): boolean =>
  noise > 0 && taken > ROUND && measured(work, taken, stride).noise <= noise;

/** The light group of each material: lamps come last, and have their own. */
function groupsOfMaterials(
  materials: number,
  lamps: readonly { number: number }[],
  settings: LightSettings,
): Pick<LightScene, 'groupOf' | 'environmentGroup'> {
  const groupOf = sharedUint8(materials);
  if (!settings.passes.includes('groups')) return { groupOf, environmentGroup: 0 };
  const names = groupNames(settings);
  groupOf.fill(names.indexOf('surfaces'));
  const numbers = groupNumbers(settings);
  lamps.forEach(({ number }, i) => (groupOf[materials - lamps.length + i] = numbers[number]!));
  return { groupOf, environmentGroup: names.indexOf('environment') };
}

/** Makes a part of the layout all of it. */
function moveIntoWindow(uvs: Float32Array, [left, lower, width, height]: LightSettings['uvWindow']): void {
  for (let i = 0; i < uvs.length; i += 2) {
    uvs[i] = (uvs[i]! - left) / width;
    uvs[i + 1] = (uvs[i + 1]! - lower) / height;
  }
}

function requireMemory({ settings: { size, passes, denoise, lights }, memoryLimitBytes }: LightContext): void {
  const bytes =
    size.width *
      size.height *
      (accumulatedPerTexel(passes.includes('groups') ? lights.length + 2 : 1) * 4 +
        16 +
        passes.length * 12 +
        (denoise > 0 ? 112 : 0)) +
    3e8;
  if (bytes <= memoryLimitBytes) return;
  throw new ZographosError(
    'limit/memory',
    `Light at ${size.width} × ${size.height} px would need about ${(bytes / 1e9).toFixed(1)} GB; the limit is ${(memoryLimitBytes / 1e9).toFixed(1)} GB (ZOGRAPHOS_MAX_MEMORY_MB). Choose a smaller size or fewer passes.`,
  );
}
