import { pickVertices } from '../../mesh/pickVertices.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import { flattenClusters } from './flatten.ts';
import { compacted, islandCount } from '../islands/islands.ts';
import { doubleUvArea, type Layout } from '../layout.ts';
import { normalCones, type ConeOptions } from './normalCones.ts';
import { findOverlaps } from '../check/overlaps.ts';

/** A mesh cut open: its vertices are split along the cuts, and islands lie flat in mesh units, one over the other. */
export interface CutMesh {
  mesh: Mesh;
  /** u, v for each vertex of the mesh. */
  flat: Float32Array;
  /** The island of each triangle. */
  islands: Uint32Array;
}

/** An island that lies on itself is cut again, with cones so many times narrower. */
const NARROWER = 0.6;
const ATTEMPTS = 5;

/**
 * Unwraps a mesh of any number of triangles: clusters of faces that look about the same way are laid flat. No island
 * stretches by much more than 1 / cos(angle), and none lies on itself.
 * @param angle degrees, below 90
 * @param isCut edges that are cut in any case
 * @param onProgress told the share that is done, 0 to 1
 */
export function unwrapDense(
  mesh: Mesh,
  angle: number,
  isCut: ConeOptions['isCut'] = () => false,
  onProgress: (share: number) => void = () => {},
): CutMesh {
  const { positions, indices } = mesh;
  const clusterOf = normalCones(positions, indices, { angle, isCut });
  onProgress(0.1);
  for (let attempt = 1; ; attempt++) {
    const { sources, indices: cut, flat } = flattenClusters(positions, indices, clusterOf);
    onProgress(1 - 0.6 ** attempt);
    const opened = pickVertices(mesh, sources, cut);
    const folded = foldedClusters({ positions: opened.positions, uvs: flat, indices: cut }, clusterOf);
    if (folded.size === 0 || attempt === ATTEMPTS) return { mesh: opened, flat, islands: compacted(clusterOf) };
    // What still lies on itself is the same face twice, or one too thin to be laid beside others.
    const apart = attempt === ATTEMPTS - 1 ? () => true : isCut;
    divide(positions, indices, clusterOf, folded, angle * NARROWER ** attempt, apart);
  }
}

/** Clusters that lie on themselves, or in which a triangle is turned over or pressed flat; those that lie on each other will be laid apart. */
export function foldedClusters(layout: Layout, clusterOf: Uint32Array): Set<number> {
  // Clusters are looked at one beside another, so that only what lies on itself is found.
  const uvs = layout.uvs.slice();
  const offsets = new Map<number, number>();
  const moved = new Uint8Array(uvs.length / 2);
  const widths = new Map<number, [low: number, high: number]>();
  for (let i = 0; i < layout.indices.length; i++) {
    const cluster = clusterOf[Math.floor(i / 3)]!;
    const u = uvs[layout.indices[i]! * 2]!;
    const [low, high] = widths.get(cluster) ?? [u, u];
    widths.set(cluster, [Math.min(low, u), Math.max(high, u)]);
  }
  let at = 0;
  for (const [cluster, [low, high]] of widths) {
    offsets.set(cluster, at - low);
    at += (high - low) * 1.01;
  }
  // The tolerance of overlaps is a share of the layout: it must not grow with the number of clusters.
  const scale = at > 0 ? widths.size / at : 1;
  for (let i = 0; i < layout.indices.length; i++) {
    const v = layout.indices[i]!;
    if (moved[v]) continue;
    moved[v] = 1;
    uvs[v * 2] = (uvs[v * 2]! + offsets.get(clusterOf[Math.floor(i / 3)]!)!) * scale;
    uvs[v * 2 + 1] = uvs[v * 2 + 1]! * scale;
  }
  const { islands } = findOverlaps({ ...layout, uvs }, clusterOf);
  const folded = new Set(islands.filter(({ a, b }) => a === b).map(({ a }) => a));
  for (let t = 0; t < clusterOf.length; t++) {
    if (doubleUvArea(layout, t) > 0 || triangleArea(layout.positions, 3, layout.indices, t) === 0) continue;
    folded.add(clusterOf[t]!);
  }
  return folded;
}

/** Divides some clusters further; the others stay. */
function divide(
  positions: Float32Array,
  indices: Uint32Array,
  clusterOf: Uint32Array,
  folded: ReadonlySet<number>,
  angle: number,
  isCut: ConeOptions['isCut'],
): void {
  const own = Uint32Array.from([...clusterOf.keys()].filter((t) => folded.has(clusterOf[t]!)));
  const part = new Uint32Array(own.length * 3);
  own.forEach((t, i) => part.set(indices.subarray(t * 3, t * 3 + 3), i * 3));
  const cornerOf = (corner: number): number => own[Math.floor(corner / 3)]! * 3 + (corner % 3);
  const parts = normalCones(positions, part, {
    angle,
    isCut: (here, there) => {
      const [a, b] = [cornerOf(here), cornerOf(there)];
      return clusterOf[Math.floor(a / 3)] !== clusterOf[Math.floor(b / 3)] || isCut(a, b);
    },
  });
  const first = islandCount(clusterOf);
  own.forEach((t, i) => (clusterOf[t] = first + parts[i]!));
}
