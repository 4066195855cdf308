import { prepareReceiver, type Receiver } from '@zographos/core/bake';
import {
  accumulatedPerTexel,
  countedDoubles,
  emittersOf,
  layLight,
  type LaidLight,
  type LightScene,
  type PathSettings,
} from '@zographos/core/light';
import type { Image } from '@zographos/core/image';
import { boundsOf, diagonal, type Mesh } from '@zographos/core/mesh';
import { ZographosError } from '@zographos/core/errors';
import { sharedUint8 } from '@zographos/core/shared-arrays';
import type { KernelTree } from '@zographos/core/trace';
import { islandsOf } from '@zographos/core/uv';
import { hashedMesh } from '../../scene/runMesh.ts';
import { attachKernel } from '../../kernel/loadKernel.ts';
import { builtScene } from '../../scene/sceneCache.ts';
import { sourceMaterials } from '../../scene/sourceMaterials.ts';
import { isLamp, lampMesh } from './lampMeshes.ts';
import { groupNames, groupNumbers } from './lightGroups.ts';
import { litMeshes } from './litMeshes.ts';
import { environmentFor, placedLights, requireGlass, requireLight } from './placedLights.ts';
import type { LightSettings } from '../settings.ts';

/** All that is lit and lights, made ready, and the receiver whose triangles come first in it. */
export interface LitScene {
  light: LightScene;
  tree: KernelTree;
  /** The same in the memory of the tree. */
  laid: LaidLight;
  pathSettings: PathSettings;
  receiver: Receiver;
  islandOf: Uint16Array;
  /** Names of the light groups that are told apart; one for all where none are. */
  groups: string[];
}

/**
 * @param threads that will trace it @param environment of the settings, where it is an image; as light
 * @param check throws where the run is to stop
 * @throws input/bad-settings where there is no light, or glass bends it the wrong way; input/no-uvs; limit/memory
 */
export async function litScene(
  settings: LightSettings,
  receivers: readonly Mesh[],
  sources: readonly Mesh[],
  environment: Image | null,
  threads: number,
  check: () => void,
): Promise<LitScene> {
  const lamps = settings.lights.flatMap((light, i) => (isLamp(light) ? [{ number: i, mesh: lampMesh(light) }] : []));
  const meshes = [...litMeshes(receivers, sources), ...lamps.map(({ mesh }) => mesh)];
  const built = builtScene([meshes.map(hashedMesh)], threads, check);
  const { scene } = built;
  const hasNormals = meshes.some((mesh) => mesh.materials?.some(({ pictures }) => pictures.normal));
  const materials = await sourceMaterials(meshes, hasNormals);
  const countsGroups = settings.passes.includes('groups');
  const light: LightScene = {
    ...{ scene, materials, emitters: emittersOf(scene, materials), extent: diagonal(boundsOf(scene.positions)) },
    ...groupsOfMaterials(materials.materials.length, lamps, settings),
    oneSided: Uint8Array.from(materials.materials, ({ lit }) => (lit?.isOneSided ? 1 : 0)),
    environment: environmentFor(settings, environment),
    ...placedLights(settings, countsGroups ? groupNumbers(settings) : settings.lights.map(() => 0)),
  };
  requireLight(light);
  requireGlass(materials.materials);
  const { tree } = built;
  if (tree.kind !== 'kernel') throw tooLarge();
  const groups = countsGroups ? groupNames(settings) : ['all'];
  const pathSettings: PathSettings = {
    seenFrom: settings.seenFrom === 'normal' ? { from: 'normal' } : { from: 'eye', place: settings.seenFrom },
    ...{ faces: settings.faces, bounces: settings.bounces, samples: settings.samples },
  };
  const receiver = prepareReceiver(
    meshes.slice(0, receivers.length).map((mesh) => ({ mesh, group: 0 })),
    settings.uvSet,
    'split',
    false,
  );
  moveIntoWindow(receiver.uvs, settings.uvWindow);
  return {
    ...{ light, tree: tree.tree, pathSettings, receiver, groups },
    laid: laidIn(tree.tree, light, pathSettings, groups.length),
    islandOf: islandsOf(receiver.positions, receiver.uvs, receiver.indices),
  };
}

/** The same scene in other light, which takes the place of its own in memory. */
export const inOtherLight = (scene: LitScene, light: LightScene): LitScene => ({
  ...scene,
  light,
  laid: laidIn(scene.tree, light, scene.pathSettings, scene.groups.length),
});

const laidIn = (tree: KernelTree, light: LightScene, settings: PathSettings, groups: number): LaidLight =>
  layLight(tree, attachKernel(tree.memory), light, settings, {
    countedDoubles: countedDoubles(groups),
    stride: accumulatedPerTexel(groups),
  });

const tooLarge = (): ZographosError =>
  new ZographosError(
    'limit/memory',
    'The scene is too large to be lit: its triangles take more than the 4 GiB that rays are cast within. Leave out what is not seen, or use coarser meshes.',
  );

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
