import { boxesOverlap, diagonal, type Bounds } from '@zographos/core/mesh';
import type { BakeOperationSettings } from '../bake/settings.ts';
import { pairUp, USUAL_ENDINGS, withoutEnding } from './matching.ts';

/** What is known of a mesh before it is opened. */
export interface Candidate {
  id: string;
  name: string;
  triangles: number;
  uvSets: number;
  bounds: Bounds;
}

/** Meshes that may belong together. */
export interface InputProposal {
  /** Ids. */
  receivers: string[];
  sources: string[];
  match: BakeOperationSettings['match'];
}

/** A source has at least so many times the triangles of its receiver. */
const DENSER = 2;

/**
 * Which meshes a new ticket is best begun with. In this order: those whose names pair, all at once; those that lie in
 * the same place, a light one with its dense ones; the first light mesh with all dense ones; a mesh alone.
 * @param meshes in the order in which they were imported
 * @param isTaken meshes that tickets have already; they are proposed as receivers only where all are taken
 * @returns null where no mesh has UVs
 * @example proposeInputs([part_low, part_high], () => false)?.match // 'all'
 */
export function proposeInputs(meshes: readonly Candidate[], isTaken: (id: string) => boolean): InputProposal | null {
  const all = meshes.filter(({ uvSets }) => uvSets > 0);
  const free = all.filter(({ id }) => !isTaken(id));
  const candidates = free.length > 0 ? free : all;
  const light = [...candidates].sort((a, b) => a.triangles - b.triangles);
  const [lightest] = light;
  if (!lightest) return null;
  const ids = (list: readonly Candidate[]): string[] => list.map(({ id }) => id);

  const byName = pairsByName(candidates, meshes);
  if (byName) {
    const { receiverEndings, sourceEndings } = USUAL_ENDINGS;
    const many = { receiverEndings: [...receiverEndings], sourceEndings: [...sourceEndings] };
    const match = byName.receivers.length > 1 ? many : 'all';
    return { receivers: ids(byName.receivers), sources: ids(byName.sources), match };
  }
  for (const receiver of light) {
    const sources = meshes.filter((mesh) => isDenser(mesh, receiver) && liesOn(mesh, receiver));
    if (sources.length > 0) return { receivers: [receiver.id], sources: ids(sources), match: 'all' };
  }
  return { receivers: [lightest.id], sources: ids(meshes.filter((mesh) => isDenser(mesh, lightest))), match: 'all' };
}

/** Receivers and sources whose names are the same but for their endings; null where there are none. */
function pairsByName(candidates: readonly Candidate[], meshes: readonly Candidate[]) {
  const { receiverEndings, sourceEndings } = USUAL_ENDINGS;
  const receivers = candidates.filter(({ name }) => withoutEnding(name, receiverEndings) !== null);
  const sources = meshes.filter(({ name }) => withoutEnding(name, sourceEndings) !== null);
  const { groups, groupOf } = pairUp(
    receivers.map(({ name }) => name),
    sources.map(({ name }) => name),
    USUAL_ENDINGS,
  );
  const paired = receivers.filter((_, i) => groupOf[i] !== null);
  if (paired.length === 0) return null;
  return { receivers: paired, sources: groups.flat().map((i) => sources[i]!) };
}

const isDenser = (mesh: Candidate, receiver: Candidate): boolean =>
  mesh.id !== receiver.id && mesh.triangles >= receiver.triangles * DENSER;

/** Whether two meshes lie in the same place and are about as large. */
function liesOn(mesh: Candidate, receiver: Candidate): boolean {
  const share = diagonal(mesh.bounds) / diagonal(receiver.bounds);
  return share > 1 / ABOUT && share < ABOUT && boxesOverlap(mesh.bounds, receiver.bounds);
}
const ABOUT = 3;

/**
 * How the source is found once the meshes of a ticket are chosen: through shared triangles where each receiver is its
 * own source, and along rays where they no longer are.
 * @param aim as it was
 */
export function aimAmong(
  { receivers, sources }: Pick<InputProposal, 'receivers' | 'sources'>,
  aim: BakeOperationSettings['aim'],
): BakeOperationSettings['aim'] {
  const areSame = receivers.length === sources.length && receivers.every((id) => sources.includes(id));
  if (areSame) return 'shared';
  return aim === 'shared' ? 'rays' : aim;
}
