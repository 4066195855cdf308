import {
  addUvSet,
  DEFAULT_PACK,
  islandCount,
  islandNumbers,
  layoutOf,
  measureStretch,
  packIslands,
  type CutMesh,
  type Layout,
  type Mesh,
  type PackSettings,
} from '@zographos/core';
import type { LayoutSettings } from '../layout/layoutSettings.ts';
import { unwrap } from './unwrap.ts';

/** Meshes with a new UV set, before their others. */
export interface LaidOut {
  meshes: Mesh[];
  /** Share of the tiles that islands cover; the mean where each object has a layout of its own. */
  coverage: number;
  /** Texels for each mesh unit. */
  scale: number;
}

/** How far a layout has come; the best packing so far, if there is one. */
export interface LayoutProgress {
  stage: 'cut' | 'pack';
  share: number;
  coverage: number | null;
}

/**
 * Lays meshes out anew: cut and packed, or their present islands packed. The old UV sets stay.
 * @throws input/no-uvs, limit/packing
 */
export async function layOut(
  meshes: readonly Mesh[],
  settings: LayoutSettings,
  onProgress: (progress: LayoutProgress) => void = () => {},
): Promise<LaidOut> {
  const cut: CutMesh[] = [];
  for (const [i, mesh] of meshes.entries()) {
    const tell = (share: number): void =>
      onProgress({ stage: 'cut', share: (i + share) / meshes.length, coverage: null });
    tell(0);
    cut.push(settings.method === 'unwrap' ? await unwrap(mesh, settings, tell) : asItLies(mesh, settings.uvSet));
  }
  const groups = settings.together ? [cut] : cut.map((each) => [each]);
  const laid: Mesh[] = [];
  let [coverage, scale] = [0, 0];
  for (const [i, group] of groups.entries()) {
    const packed = pack(group, settings, (share, so) =>
      onProgress({ stage: 'pack', share: (i + share) / groups.length, coverage: so }),
    );
    laid.push(...packed.meshes);
    coverage += packed.coverage / groups.length;
    scale = packed.scale;
  }
  return { meshes: laid, coverage, scale };
}

function pack(
  group: readonly CutMesh[],
  settings: LayoutSettings,
  onPass: (share: number, coverage: number) => void,
): LaidOut {
  const { layout, islands, objectOf } = endToEnd(group);
  const packSettings: PackSettings = {
    ...DEFAULT_PACK,
    size: settings.size,
    aspect: settings.method === 'pack' ? aspectOf(layout, settings.size) : 1,
    gap: settings.gap,
    edge: settings.edge,
    rotate: settings.rotate,
    density: settings.density,
    scale: settings.scale,
    window: settings.window,
    tiles: settings.tiles,
    passes: settings.passes,
    weightOf: (island) => settings.weights[group[objectOf[island]!]!.mesh.name] ?? 1,
  };
  const passes = packIslands(layout, islands, packSettings);
  let step = passes.next();
  while (!step.done) {
    onPass((step.value.pass + 1) / settings.passes, step.value.coverage);
    step = passes.next();
  }
  const { uvs, coverage, scale } = step.value;
  let vertex = 0;
  const meshes = group.map(({ mesh }) => {
    const to = vertex + mesh.positions.length / 3;
    const coords = uvs.slice(vertex * 2, to * 2);
    vertex = to;
    return addUvSet(mesh, { name: settings.name, coords });
  });
  return { meshes, coverage, scale };
}

/** The shape of map that a layout was made for: square or as it will be, whichever stretches it less. */
function aspectOf({ positions, uvs, indices }: Layout, { width, height }: LayoutSettings['size']): number {
  const aspect = width / height;
  if (aspect === 1) return 1;
  const along = uvs.map((value, i) => (i % 2 === 0 ? value * aspect : value));
  const square = measureStretch({ positions, uvs, indices }).l2;
  return measureStretch({ positions, uvs: along, indices }).l2 < square ? aspect : 1;
}

/** A mesh with the islands that it has. */
function asItLies(mesh: Mesh, uvSet: number): CutMesh {
  const layout = layoutOf(mesh, uvSet);
  return { mesh, flat: layout.uvs, islands: islandNumbers(layout) };
}

/** Several cut meshes as one layout, with the island of each triangle and the object of each island. */
function endToEnd(group: readonly CutMesh[]): { layout: Layout; islands: Uint32Array; objectOf: number[] } {
  const vertices = group.reduce((sum, { mesh }) => sum + mesh.positions.length / 3, 0);
  const corners = group.reduce((sum, { mesh }) => sum + mesh.indices.length, 0);
  const layout: Layout = {
    positions: new Float32Array(vertices * 3),
    uvs: new Float32Array(vertices * 2),
    indices: new Uint32Array(corners),
  };
  const islands = new Uint32Array(corners / 3);
  const objectOf: number[] = [];
  let [vertex, corner] = [0, 0];
  group.forEach(({ mesh, flat, islands: own }, object) => {
    layout.positions.set(mesh.positions, vertex * 3);
    layout.uvs.set(flat, vertex * 2);
    for (let i = 0; i < mesh.indices.length; i++) layout.indices[corner + i] = mesh.indices[i]! + vertex;
    const first = objectOf.length;
    for (let t = 0; t < own.length; t++) islands[corner / 3 + t] = first + own[t]!;
    for (let n = islandCount(own); n > 0; n--) objectOf.push(object);
    vertex += mesh.positions.length / 3;
    corner += mesh.indices.length;
  });
  return { layout, islands, objectOf };
}
