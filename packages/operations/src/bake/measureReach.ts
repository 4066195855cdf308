import { groupsOf, suggestReach, type SuggestedReach } from '@zographos/core/bake';
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

/** Measures how far the rays of a ticket must reach to find what its receivers may see. */
export function measureReach(inputs: OperationInputs<RunMesh>, settings: BakeOperationSettings): SuggestedReach {
  const { built, receiver } = prepared(inputs, settings);
  return suggestReach({ ...receiver, groups: groupsOf(receiver) }, built.scene, built.tracers);
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
