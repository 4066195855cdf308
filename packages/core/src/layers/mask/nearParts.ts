import { buildBvh, NearestPlace, type Bvh, type HitBatch } from '../../trace/index.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';

/**
 * How near each place is to some connected parts of the mesh: 1 where it touches them, 0 from `reach` on.
 * @param triangles one of each part that distance is measured from
 * @param reach in millimetres
 */
export function nearParts(
  { triangles, reach }: { triangles: readonly number[]; reach: number },
  surface: LayeredSurface,
): BlockValues {
  const { parts } = surface;
  const wanted = new Set(triangles.map((t) => parts[t]!));
  const nearest = new NearestPlace(treeOf(wanted, surface));
  const hits: HitBatch = {
    triangles: new Int32Array(1),
    distances: new Float32Array(1),
    weights: new Float32Array(2),
  };
  return ({ places: [x, y, z], triangles: own, count }, out) => {
    for (let i = 0; i < count; i++) {
      if (wanted.has(parts[own[i]!]!)) {
        out[i] = 1;
        continue;
      }
      nearest.find(x[i]!, y[i]!, z[i]!, reach, hits, 0);
      out[i] = hits.triangles[0]! < 0 ? 0 : 1 - hits.distances[0]! / reach;
    }
  };
}

/** Trees are built once for each surface and choice of parts. */
const trees = new WeakMap<LayeredSurface, Map<string, Bvh>>();

function treeOf(wanted: ReadonlySet<number>, surface: LayeredSurface): Bvh {
  const known = trees.get(surface) ?? new Map<string, Bvh>();
  trees.set(surface, known);
  const key = [...wanted].sort((a, b) => a - b).join();
  const { receiver, parts } = surface;
  const tree =
    known.get(key) ??
    buildBvh({
      positions: receiver.positions,
      normals: receiver.normals,
      indices: receiver.indices.filter((_, corner) => wanted.has(parts[Math.floor(corner / 3)]!)),
    });
  known.set(key, tree);
  return tree;
}
