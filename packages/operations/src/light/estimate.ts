import { accumulatedPerTexel } from '@zographos/core/light';
import { BASE_BYTES } from '../memoryLimit.ts';
import type { Estimate, MeshFacts, OperationInputs } from '../operation.ts';
import { groupNames } from './scene/lightGroups.ts';
import type { LightSettings } from './settings.ts';

/** Bytes for each triangle and vertex of the scene: trees, corners, and what is looked up at a place. */
const BYTES_PER_TRIANGLE = 200;
const BYTES_PER_VERTEX = 80;
/** Rays that a path casts on average: to its lights and from surface to surface. */
const RAYS_PER_PATH = 3;

/** What a bake of light will cost: rays cast, and bytes at its peak; where the inputs do not tell, of one tile. */
export function estimateLight(settings: LightSettings, { receivers, sources }: OperationInputs<MeshFacts>): Estimate {
  const { size, passes, denoise, samples, tiles } = settings;
  const texels = size.width * size.height;
  const count = tiles === 'all' ? 1 : tiles.length;
  const scene = [...receivers, ...sources].reduce(
    (sum, { triangles, vertices }) => sum + triangles * BYTES_PER_TRIANGLE + vertices * BYTES_PER_VERTEX,
    0,
  );
  return {
    rays: texels * count * samples * RAYS_PER_PATH,
    memoryBytes: BASE_BYTES + scene + texels * bytesPerTexel(passes, groupNames(settings).length, denoise),
  };
}

/** Sums, halves, states, islands; the picture that is being written; what leads and holds the denoiser. */
function bytesPerTexel(passes: LightSettings['passes'], groups: number, denoise: number): number {
  const sums = accumulatedPerTexel(passes.includes('groups') ? groups : 1) * 4;
  return sums + 4 + 1 + 2 + 24 + (denoise > 0 ? 36 + 96 : 0);
}
