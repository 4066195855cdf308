import { padIslands, planBlocks, prepareReceiver } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import {
  COUNTED,
  countedPerTexel,
  denoise,
  emittersOf,
  environmentOf,
  GUIDES,
  skyPicture,
  type Bearings,
  type Environment,
  type LightScene,
  type LightWork,
  type PointLight,
  type SunLight,
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
import type { LightPass, LightSettings, PlacedLight } from './settings.ts';

/** Everything a thread needs to take part; all arrays are shared memory. */
export interface LightJob {
  work: LightWork;
  tree: SceneTree;
  /** Numbers of the samples to take, the last not among them. */
  from: number;
  to: number;
}
export type LightShare = LightJob & BlockShare;
/** Rays that a thread has cast. */
export interface LightAnswer {
  cast: number;
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
  passes: [pass: LightPass, image: Image][];
  states: Uint8Array;
  report: LightReport;
}

export interface LightReport {
  samples: number;
  paths: number;
  rays: number;
  texels: number;
  /** Standard error of the combined light of a texel over the mean of all: root of the mean square, 0 for none. */
  noise: number;
  mean: readonly [number, number, number];
  seconds: { build: number; trace: number; total: number };
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
  const meshes = litMeshes(
    receivers,
    context.sources.map(({ mesh }) => mesh),
  );
  onProgress({ stage: 'build', share: 0, secondsLeft: null });
  const { scene, tree } = builtScene([meshes.map(hashedMesh)], threads, () => throwIfCancelled(cancelFlag));
  const materials = await sourceMaterials(meshes, false);
  const light: LightScene = {
    ...{ scene, materials, emitters: emittersOf(scene, materials), extent: diagonal(boundsOf(scene.positions)) },
    ...{ groupOf: sharedUint8(materials.materials.length), environmentGroup: 0 },
    ...{ environment: environmentFor(context), ...placed(settings) },
  };
  requireLight(light);
  const receiver = prepareReceiver(
    meshes.slice(0, receivers.length).map((mesh) => ({ mesh, group: 0 })),
    settings.uvSet,
    'split',
    false,
  );
  moveIntoWindow(receiver.uvs, settings.uvWindow);
  const { size } = settings;
  const plan = planBlocks(receiver.uvs, receiver.indices, size);
  const stride = countedPerTexel(1);
  const texels = size.width * size.height;
  const work: LightWork = {
    ...{ light, receiver, firstTriangle: 0, plan },
    islandOf: islandsOf(receiver.positions, receiver.uvs, receiver.indices),
    settings: {
      seenFrom: settings.seenFrom === 'normal' ? { from: 'normal' } : { from: 'eye', place: settings.seenFrom },
      ...{ faces: settings.faces, bounces: settings.bounces, groups: 1, seed: settings.seed },
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
  for (let from = 0; from < settings.samples;) {
    const to = Math.min(settings.samples, from === 0 ? ROUND : from * 4);
    const answers = await pool.run({ work, tree, from, to }, plan.columns * plan.rows, threads, cancelFlag, (share) => {
      const done = (from + (to - from) * share) / settings.samples;
      const seconds = (performance.now() - begun) / 1000;
      onProgress({ stage: 'trace', share: done, secondsLeft: done > 0.01 ? (seconds / done) * (1 - done) : null });
    });
    rays += answers.reduce((sum, { cast }) => sum + cast, 0);
    from = to;
  }
  const traceSeconds = (performance.now() - begun) / 1000;
  const { report, covered } = measured(work, settings.samples, stride);
  if (covered === 0) {
    throw new ZographosError(
      'input/outside-tile',
      'No texel is covered: the receiver’s UVs lie outside the tile 0 to 1. Move its islands into it, or choose another UV set.',
    );
  }
  denoise(work.target, size, stride, settings.denoise, () => throwIfCancelled(cancelFlag));
  const passes = settings.passes.map((pass): [LightPass, Image] => [
    pass,
    passOf(pass, work, settings.samples, stride),
  ]);
  onProgress({ stage: 'pad', share: 1, secondsLeft: null });
  const { states, islands } = work.target;
  const planes = [...passes.map(([, image]) => image), { ...size, channels: 1, data: islands! }];
  padIslands(planes, states, settings.padding === 'all' ? Infinity : settings.padding);
  const total = (performance.now() - started) / 1000;
  return { passes, states, report: { ...report, rays, seconds: { build: buildSeconds, trace: traceSeconds, total } } };
}

/** Makes a part of the layout all of it. */
function moveIntoWindow(uvs: Float32Array, [left, lower, width, height]: LightSettings['uvWindow']): void {
  for (let i = 0; i < uvs.length; i += 2) {
    uvs[i] = (uvs[i]! - left) / width;
    uvs[i + 1] = (uvs[i + 1]! - lower) / height;
  }
}

const UP = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;
/** North for each axis that is up. */
const NORTH = { x: [0, 1, 0], y: [0, 0, -1], z: [0, 1, 0] } as const;
const bearingsOf = ({ up }: LightSettings): Bearings => ({ up: UP[up], north: NORTH[up] });

function environmentFor({ settings, environment }: LightContext): Environment | null {
  const { environment: wanted, environmentStrength } = settings;
  if (wanted.kind === 'none' || environmentStrength === 0) return null;
  const picture =
    wanted.kind === 'picture' ? environment! : skyPicture(wanted.kind, { elevation: wanted.elevation, azimuth: 180 });
  const scaled = { ...picture, data: picture.data.map((value) => value * environmentStrength) };
  return environmentOf(scaled, bearingsOf(settings));
}

function placed(settings: LightSettings): { suns: SunLight[]; points: PointLight[] } {
  const { up, north } = bearingsOf(settings);
  const east = [
    north[1] * up[2] - north[2] * up[1],
    north[2] * up[0] - north[0] * up[2],
    north[0] * up[1] - north[1] * up[0],
  ];
  const suns: SunLight[] = [];
  const points: PointLight[] = [];
  for (const light of settings.lights) {
    if (light.kind === 'sun') {
      const [height, bearing] = [(light.elevation * Math.PI) / 180, (light.azimuth * Math.PI) / 180];
      const [level, upwards] = [Math.cos(height), Math.sin(height)];
      const towards = [0, 1, 2].map(
        (k) => up[k]! * upwards + level * (north[k]! * Math.cos(bearing) + east[k]! * Math.sin(bearing)),
      ) as [number, number, number];
      suns.push({ kind: 'sun', towards, halfAngle: light.angle / 2, irradiance: light.strength, group: 0 });
    } else {
      points.push({
        kind: 'point',
        position: light.position,
        intensity: light.strength,
        cone: coneOf(light),
        group: 0,
      });
    }
  }
  return { suns, points };
}

function coneOf(light: Exclude<PlacedLight, { kind: 'sun' }>): PointLight['cone'] {
  if (light.kind === 'point') return null;
  const axis = light.target.map((value, k) => value - light.position[k]!);
  const length = Math.hypot(...axis) || 1;
  const outer = light.angle / 2;
  return {
    axis: axis.map((value) => value / length) as [number, number, number],
    ...{ inner: outer * (1 - light.softness), outer },
  };
}

function requireLight({ emitters, environment, suns, points }: LightScene): void {
  if (emitters || environment || [...suns, ...points].length > 0) return;
  throw new ZographosError(
    'input/bad-settings',
    'There is no light: no surface sends any, no lamp is placed and there is no environment. Add a light, or choose an environment.',
  );
}

function requireMemory({ settings: { size, passes, denoise }, memoryLimitBytes }: LightContext): void {
  const bytes =
    size.width * size.height * (countedPerTexel(1) * 4 + 16 + passes.length * 12 + (denoise > 0 ? 112 : 0)) + 3e8;
  if (bytes <= memoryLimitBytes) return;
  throw new ZographosError(
    'limit/memory',
    `Light at ${size.width} × ${size.height} px would need about ${(bytes / 1e9).toFixed(1)} GB; the limit is ${(memoryLimitBytes / 1e9).toFixed(1)} GB (ZOGRAPHOS_MAX_MEMORY_MB). Choose a smaller size or fewer passes.`,
  );
}

/** What each pass is the sum of. */
const PARTS: Record<Exclude<LightPass, 'shadow' | 'sky'>, readonly number[]> = {
  combined: [
    ...[COUNTED.diffuseDirect, COUNTED.diffuseIndirect, COUNTED.reflectionDirect, COUNTED.reflectionIndirect],
    ...[COUNTED.refraction, COUNTED.emission],
  ],
  direct: [COUNTED.diffuseDirect, COUNTED.reflectionDirect],
  indirect: [COUNTED.diffuseIndirect, COUNTED.reflectionIndirect],
  diffuse: [COUNTED.diffuseDirect, COUNTED.diffuseIndirect],
  'diffuse-direct': [COUNTED.diffuseDirect],
  'diffuse-indirect': [COUNTED.diffuseIndirect],
  reflection: [COUNTED.reflectionDirect, COUNTED.reflectionIndirect],
  refraction: [COUNTED.refraction],
  emission: [COUNTED.emission],
  irradiance: [COUNTED.irradiance],
};

function passOf(pass: LightPass, { target, plan: { size } }: LightWork, samples: number, stride: number): Image {
  const { sums } = target;
  const texels = size.width * size.height;
  if (pass === 'shadow') {
    // How much of what lamps send here is blocked.
    const data = new Float32Array(texels);
    for (let i = 0; i < texels; i++) {
      const sent = sums[i * stride + COUNTED.unblocked]!;
      data[i] = sent > 0 ? 1 - sums[i * stride + COUNTED.arriving]! / sent : 0;
    }
    return { ...size, channels: 1, data };
  }
  if (pass === 'sky') {
    const data = Float32Array.from({ length: texels }, (_, i) => sums[i * stride + COUNTED.sky]! / samples);
    return { ...size, channels: 1, data };
  }
  const data = new Float32Array(texels * 3);
  const parts = PARTS[pass];
  for (let i = 0; i < texels; i++) {
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      for (const part of parts) sum += sums[i * stride + part + c]!;
      data[i * 3 + c] = sum / samples;
    }
  }
  return { ...size, channels: 3, data };
}

function measured(
  { target, plan: { size } }: LightWork,
  samples: number,
  stride: number,
): { report: Omit<LightReport, 'seconds' | 'rays'>; covered: number } {
  const { sums, differences, states } = target;
  const mean: [number, number, number] = [0, 0, 0];
  let [covered, squares] = [0, 0];
  for (let i = 0; i < size.width * size.height; i++) {
    if (states[i] === 0) continue;
    covered++;
    for (const part of PARTS.combined) for (let c = 0; c < 3; c++) mean[c]! += sums[i * stride + part + c]! / samples;
    squares += (differences[i]! / samples) ** 2;
  }
  if (covered > 0) for (let c = 0; c < 3; c++) mean[c]! /= covered;
  const level = (mean[0] + mean[1] + mean[2]) / 3;
  const noise = level > 0 && samples > 1 ? Math.sqrt(squares / Math.max(1, covered)) / level : 0;
  return { report: { samples, paths: covered * samples, texels: covered, noise, mean }, covered };
}
