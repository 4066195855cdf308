import { latticeOf, periodOf, repeatMesh, type Lattice, type Reach } from '@zographos/core/bake';
import { describeKind } from '@zographos/core/image';
import { boundsOf } from '@zographos/core/mesh';
import type { BakePassSettings } from '../bake/settings.ts';
import type { OperationInputs } from '../operation.ts';
import type { RunMesh } from './runMesh.ts';

/** What occlusion looks at, in tiles, where a ticket sets no distance: the pattern must end somewhere. */
const OCCLUSION_TILES = 1;

/** How the sources of a bake come to lie on the tile; null where they are not repeated. @throws input/not-flat */
export function repeatLattice(
  { receivers }: OperationInputs<RunMesh>,
  { repeat, uvSet }: Pick<BakePassSettings, 'repeat' | 'uvSet'>,
): Lattice | null {
  const { mesh } = receivers[0]!;
  const uvs = mesh.uvSets[uvSet]?.coords;
  return repeat === 'none' || !uvs ? null : latticeOf(repeat, periodOf(mesh.name, mesh.positions, uvs));
}

/**
 * The same inputs with their sources repeated over the first receiver's tile, so that what is baked tiles exactly; and
 * the settings with which it does: occlusion rays then look no farther than the pattern goes on.
 * @throws input/not-flat, input/bad-settings, limit/triangles
 */
export function repeatSources(
  inputs: OperationInputs<RunMesh>,
  settings: BakePassSettings,
): { inputs: OperationInputs<RunMesh>; settings: BakePassSettings } {
  const { repeat, uvSet, reach, occlusion } = settings;
  const { mesh } = inputs.receivers[0]!;
  const uvs = mesh.uvSets[uvSet]?.coords;
  if (repeat === 'none' || !uvs) return { inputs, settings };
  const period = periodOf(mesh.name, mesh.positions, uvs);
  const across = Math.min(Math.hypot(...period.u), Math.hypot(...period.v)) * OCCLUSION_TILES;
  const distance = Math.min(occlusion.distance === 'unlimited' ? across : occlusion.distance, across);
  const looks = settings.maps.some((kind) => describeKind(kind).fans);
  const rayReach: Reach = typeof reach === 'string' ? { out: across, in: across } : reach;
  const margin = Math.max(looks ? distance : 0, rayReach.out, rayReach.in);
  const tile = boundsOf(mesh.positions);
  const sources = inputs.sources.map(({ hash, mesh: source }) => ({
    hash: `${hash} repeated ${JSON.stringify(repeat)} ${margin} over ${inputs.receivers[0]!.hash}`,
    mesh: repeatMesh(source, tile, period, repeat, margin),
  }));
  return {
    inputs: { ...inputs, sources },
    settings: { ...settings, occlusion: { ...occlusion, distance } },
  };
}
