import { ZographosError } from '@zographos/core/errors';
import { NO_GROUP } from '@zographos/core/trace';
import type { BakePassSettings } from '../bake/settings.ts';
import { pairUp, type Pairing } from '../ticket/matching.ts';
import type { OperationInputs } from '../operation.ts';
import type { Finding } from '../proof/finding.ts';
import type { RunMesh } from './runMesh.ts';
import { note, warning } from '../proof/finding.ts';

/** The inputs of a bake as they see each other. */
export interface MatchedInputs {
  receivers: { input: RunMesh; group: number }[];
  /** The sources of each group, all in the order of the scene. */
  groups: RunMesh[][];
  /** What occludes, if that is not what each part sees. */
  occluders: RunMesh[] | null;
  findings: Finding[];
}

/** @throws input/no-partner when no receiver has a source to see, or occluders are named that are not there */
export function matchInputs(
  { receivers, sources }: OperationInputs<RunMesh>,
  { match, occlusion }: BakePassSettings,
): MatchedInputs {
  const names = (inputs: RunMesh[]): string[] => inputs.map(({ mesh }) => mesh.name);
  const pairing = pairUp(names(receivers), names(sources), match);
  if (pairing.groups.length === 0 && match !== 'all') {
    throw new ZographosError(
      'input/no-partner',
      `No receiver matches a source by name. Receivers: ${listed(names(receivers))}. Sources: ${listed(names(sources))}. Names must be the same except for the suffixes ${listed(match.receiverEndings)} and ${listed(match.sourceEndings)}.`,
    );
  }
  const groups = pairing.groups.map((group) => group.map((i) => sources[i]!));
  return {
    receivers: receivers.map((input, i) => ({ input, group: pairing.groupOf[i] ?? NO_GROUP })),
    groups,
    occluders: occludersOf(occlusion.occluders, sources, groups),
    findings: unmatched(pairing, names(receivers), names(sources)),
  };
}

function occludersOf(
  chosen: BakePassSettings['occlusion']['occluders'],
  sources: RunMesh[],
  groups: RunMesh[][],
): RunMesh[] | null {
  if (chosen === 'own') return null;
  if (chosen === 'all') return groups.length === 1 && groups[0]!.length === sources.length ? null : sources;
  const found = sources.filter(({ mesh }) => chosen.includes(mesh.name));
  if (found.length > 0) return found;
  throw new ZographosError(
    'input/no-partner',
    `None of the sources is named ${listed(chosen)}, so nothing would occlude. Choose among ${listed(sources.map(({ mesh }) => mesh.name))}.`,
  );
}

function unmatched(pairing: Pairing, receivers: string[], sources: string[]): Finding[] {
  const alone = receivers.filter((_, i) => pairing.groupOf[i] === null);
  const findings: Finding[] = [];
  if (alone.length > 0) {
    findings.push(
      warning(
        'unmatched',
        `No source matches the name of ${listed(alone)}: the map shows the receiver’s own surface there, without detail. Rename the meshes, or match all sources.`,
        {
          remedy: { label: 'Let every receiver see all sources', change: { match: 'all' } },
        },
      ),
    );
  }
  if (pairing.unseen.length > 0) {
    findings.push(note('unmatched', `${listed(pairing.unseen.map((i) => sources[i]!))} is seen by no receiver.`));
  }
  return findings;
}

/** Names in quotes, the first few of many. */
export function listed(names: readonly string[]): string {
  const shown = names.slice(0, 6).map((name) => `“${name}”`);
  const more = names.length - shown.length;
  return shown.join(', ') + (more > 0 ? ` and ${more} more` : '');
}
