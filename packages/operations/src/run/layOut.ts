import {
  addUvSet,
  DEFAULT_PACK,
  islandCount,
  islandNumbers,
  layoutOf,
  measureStretch,
  packIslands,
  sceneOf,
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
    ...settings,
    aspect: settings.method === 'pack' ? aspectOf(layout, settings.size) : 1,
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
  const { positions, indices } = sceneOf(group.map(({ mesh }) => mesh));
  const uvs = new Float32Array((positions.length / 3) * 2);
  const islands = new Uint32Array(indices.length / 3);
  const objectOf: number[] = [];
  let [value, triangle] = [0, 0];
  group.forEach(({ flat, islands: own }, object) => {
    const first = objectOf.length;
    uvs.set(flat, value);
    islands.set(
      own.map((island) => first + island),
      triangle,
    );
    for (let n = islandCount(own); n > 0; n--) objectOf.push(object);
    value += flat.length;
    triangle += own.length;
  });
  return { layout: { positions, uvs, indices }, islands, objectOf };
}
