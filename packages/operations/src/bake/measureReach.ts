import { fitReach, groupsOf, reachFaults, setReach, suggestReach, type SuggestedReach } from '@zographos/core/bake';
import { passOf, type BakeOperationSettings } from './settings.ts';
import type { OperationInputs } from '../operation.ts';
import type { RunMesh } from '../scene/runMesh.ts';
import { matchInputs } from '../scene/matchedInputs.ts';
import { decideReach, receiverOf } from '../scene/receiverOf.ts';
import { repeatSources } from '../scene/repeatSources.ts';
import { scaleSources } from '../scene/scaleSources.ts';
import { builtScene } from '../scene/sceneCache.ts';

/** How far rays reach from each vertex of each receiver, in mesh units. */
export interface MeasuredShell {
  out: number[];
  in: number[];
}

/** @throws as a bake would for inputs that do not go together */
function prepared(given: OperationInputs<RunMesh>, wantedOfAll: BakeOperationSettings) {
  const wanted = passOf(wantedOfAll);
  const { inputs, settings } = repeatSources(scaleSources(given, wanted), wanted);
  const matched = matchInputs(inputs, settings);
  const built = builtScene(matched.groups, 0);
  return { built, settings, receiver: receiverOf(matched, inputs.cage, null, settings), inputs };
}

/** How far rays must reach, and which way of setting it lets fewer rays begin inside the source or miss it. */
export interface MeasuredReach extends SuggestedReach {
  better: 'auto' | 'fitted';
}

/** Measures how far the rays of a ticket must reach to find what its receivers may see. */
export function measureReach(inputs: OperationInputs<RunMesh>, settings: BakeOperationSettings): MeasuredReach {
  const { built, receiver } = prepared(inputs, settings);
  const { scene, tracers } = built;
  const reach = suggestReach({ ...receiver, groups: groupsOf(receiver) }, scene, tracers);
  setReach(receiver, reach);
  const faults = reachFaults(receiver, scene, tracers);
  fitReach(receiver, scene, tracers);
  return { ...reach, better: reachFaults(receiver, scene, tracers) <= faults ? 'fitted' : 'auto' };
}

/** Measures how far rays will reach from each vertex, as the ticket stands. */
export function measureShell(inputs: OperationInputs<RunMesh>, wanted: BakeOperationSettings): MeasuredShell[] {
  const { built, receiver, settings } = prepared(inputs, wanted);
  decideReach(receiver, built, settings);
  let vertex = 0;
  return inputs.receivers.map(({ mesh }) => {
    const to = vertex + mesh.positions.length / 3;
    const shell = {
      out: rounded(receiver.reachOut.subarray(vertex, to)),
      in: rounded(receiver.reachIn.subarray(vertex, to)),
    };
    vertex = to;
    return shell;
  });
}

const rounded = (values: Float32Array): number[] => Array.from(values, (value) => Number(value.toPrecision(4)));
