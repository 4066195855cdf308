import {
  edgeBlend,
  farthestReach,
  fitReach,
  groupsOf,
  MORE_REACH,
  prepareReceiver,
  reachFaults,
  setReach,
  suggestReach,
  touchReach,
  type Receiver,
} from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import { sharedImage, type Image } from '@zographos/core/image';
import { boundsOf, diagonal } from '@zographos/core/mesh';
import type { BakePassSettings } from '../bake/settings.ts';
import type { RunMesh } from './runMesh.ts';
import type { MatchedInputs } from './matchedInputs.ts';
import type { BuiltScene } from './sceneCache.ts';

/** The smooth rim at hard edges, as a share of the receiver's size. */
const AUTO_RIM = 0.01;

/**
 * The receivers as one, ready to send their rays.
 * @throws input/no-uvs, input/cage-topology
 */
export function receiverOf(
  { receivers }: MatchedInputs,
  cage: RunMesh | undefined,
  mask: Image | null,
  settings: BakePassSettings,
): Receiver {
  if (cage && receivers.length > 1) {
    throw new ZographosError(
      'input/cage-topology',
      `A cage belongs to one receiver, but this ticket has ${receivers.length}. Bake them one by one, or without the cage.`,
    );
  }
  const { direction, blendWidth, uvSet } = settings;
  const parts = receivers.map(({ input, group }) => ({ mesh: input.mesh, group, cage: cage?.mesh }));
  const receiver = prepareReceiver(parts, uvSet, direction === 'split' ? 'split' : 'smooth');
  if (direction === 'blend' && mask) receiver.blend = { kind: 'mask', mask: sharedImage(mask) };
  else if (direction === 'blend') {
    const width = blendWidth === 'auto' ? diagonal(boundsOf(receiver.positions)) * AUTO_RIM : blendWidth;
    receiver.blend = edgeBlend(receiver, width);
  }
  return receiver;
}

/** Whether fewer rays would begin inside the source, or meet nothing, if all reached `MORE_REACH` farther out. */
export function isBetterWithMoreReach(
  receiver: Receiver,
  { scene, tracers }: BuiltScene,
  reach: { out: number; in: number },
): boolean {
  const vertices = receiver.reachOut.length;
  const farther = {
    ...receiver,
    reachOut: new Float32Array(vertices).fill(reach.out * (1 + MORE_REACH)),
    reachIn: new Float32Array(vertices).fill(reach.in),
  };
  return reachFaults(farther, scene, tracers) < reachFaults(receiver, scene, tracers);
}

/** Decides how far rays reach from each vertex. @returns the farthest */
export function decideReach(receiver: Receiver, { scene, tracers }: BuiltScene, settings: BakePassSettings) {
  const { reach, reachOf, touches } = settings;
  if (reach === 'fitted') fitReach(receiver, scene, tracers);
  else if (reach === 'auto')
    setReach(receiver, suggestReach({ ...receiver, groups: groupsOf(receiver) }, scene, tracers), reachOf);
  else setReach(receiver, reach, reachOf);
  touchReach(receiver, touches);
  const farthest = farthestReach(receiver);
  // Single precision must not blow a given length up to odd digits.
  return { out: Number(farthest.out.toPrecision(7)), in: Number(farthest.in.toPrecision(7)) };
}
