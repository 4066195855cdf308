import { addUvSet, type Mesh } from '@zographos/core/mesh';
import { sceneOf } from '@zographos/core/trace';
import {
  coveringLayout,
  DEFAULT_PACK,
  findOverlaps,
  islandCount,
  islandNumbers,
  layoutOf,
  measureStretch,
  packIslands,
  type CutMesh,
  type Layout,
  type PackSettings,
} from '@zographos/core/uv';
import { replaceCut, trianglesOf } from './joinCuts.ts';
import type { LayoutReport } from './report.ts';
import { texelsOf, type LayoutSettings } from './settings.ts';
import { unwrap } from './unwrap.ts';

/** Meshes with a new UV set. */
export interface LaidOut {
  meshes: Mesh[];
  /** Share of the tiles that islands cover; the mean where each object has a layout of its own. */
  coverage: number;
  /** Texels for each mesh unit. */
  scale: number;
  islands: number;
  /** What overlaps all the same, where islands were cut anew. */
  overlaps: LayoutReport['overlaps'];
}

/** How far a layout has come; the best packing so far, if there is one. */
export interface LayoutProgress {
  stage: 'cut' | 'pack';
  share: number;
  coverage: number | null;
}

/**
 * Lays meshes out anew: cut and packed, or their present islands packed. The old UV sets stay.
 * @param isEnough asked after each try of a packing: the best so far is taken when it says so
 * @throws input/no-uvs, limit/packing
 */
export async function layOut(
  meshes: readonly Mesh[],
  settings: LayoutSettings,
  onProgress: (progress: LayoutProgress) => void = () => {},
  isEnough: () => boolean = () => false,
): Promise<LaidOut> {
  const cut: CutMesh[] = [];
  for (const [i, mesh] of meshes.entries()) {
    const tell = (share: number): void =>
      onProgress({ stage: 'cut', share: (i + share) / meshes.length, coverage: null });
    tell(0);
    const { method, uvSet } = settings;
    const locked = settings.locked[i] ?? [];
    if (method === 'pack') cut.push(asItLies(mesh, uvSet));
    else if (locked.length > 0) cut.push(await unwrapAround(mesh, locked, settings, tell));
    else cut.push(await unwrap(mesh, settings, tell));
  }
  const groups = settings.together ? [cut] : cut.map((each) => [each]);
  const laid: Mesh[] = [];
  let [coverage, scale, islands] = [0, 0, 0];
  const overlaps: LayoutReport['overlaps'] = { pairs: 0, places: [] };
  for (const [i, group] of groups.entries()) {
    const locked = settings.together ? settings.locked : [settings.locked[i] ?? []];
    const packed = pack(
      group,
      locked,
      settings,
      (share, so) => onProgress({ stage: 'pack', share: (i + share) / groups.length, coverage: so }),
      isEnough,
    );
    laid.push(...packed.meshes);
    coverage += packed.coverage / groups.length;
    islands += packed.islands;
    overlaps.pairs += packed.overlaps.pairs;
    overlaps.places.push(...packed.overlaps.places);
    scale = packed.scale;
  }
  return { meshes: laid, coverage, scale, islands, overlaps };
}

function pack(
  group: readonly CutMesh[],
  lockedTriangles: readonly (readonly number[])[],
  settings: LayoutSettings,
  onPass: (share: number, coverage: number) => void,
  isEnough: () => boolean,
): LaidOut {
  const { layout, islands, objectOf, firstTriangles } = endToEnd(group);
  const locked = new Set(
    lockedTriangles.flatMap((triangles, object) => triangles.map((t) => islands[firstTriangles[object]! + t])),
  );
  const packSettings: PackSettings = {
    ...DEFAULT_PACK,
    ...settings,
    gap: texelsOf(settings.gap, settings.size),
    edge: texelsOf(settings.edge, settings.size),
    aspect: settings.method === 'pack' ? aspectOf(layout, settings.size) : 1,
    isLocked: (island) => locked.has(island),
    weightOf: (island) => settings.weights[group[objectOf[island]!]!.mesh.name] ?? 1,
  };
  const passes = packIslands(layout, islands, packSettings);
  let step = passes.next();
  while (!step.done) {
    onPass((step.value.pass + 1) / settings.passes, step.value.coverage);
    if (isEnough()) break;
    step = passes.next();
  }
  const { uvs, coverage, scale } = step.value;
  let vertex = 0;
  const meshes = group.map(({ mesh }) => {
    const to = vertex + mesh.positions.length / 3;
    const coords = uvs.slice(vertex * 2, to * 2);
    vertex = to;
    return addUvSet(mesh, { name: settings.name, coords }, settings.place);
  });
  const overlaps = settings.method === 'unwrap' ? overlapsOf({ ...layout, uvs }, islands) : { pairs: 0, places: [] };
  return { meshes, coverage, scale, islands: islandCount(islands), overlaps };
}

/** What lies on each other in a layout that should have no such places. */
function overlapsOf(layout: Layout, islands: Uint32Array): LayoutReport['overlaps'] {
  const found = findOverlaps(coveringLayout(layout), islands);
  return { pairs: found.pairs, places: found.islands.slice(0, MOST_PLACES).map(({ place: [u, v] }) => [u, v]) };
}

/** Places that a report names. */
const MOST_PLACES = 12;

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

/** A mesh cut anew but for some islands of its present layout. @param locked a triangle of each of them */
async function unwrapAround(
  mesh: Mesh,
  locked: readonly number[],
  settings: LayoutSettings,
  onProgress: (share: number) => void,
): Promise<CutMesh> {
  const present = asItLies(mesh, settings.uvSet);
  const staying = new Set(locked.map((t) => present.islands[t]));
  const rest = [...present.islands.keys()].filter((t) => !staying.has(present.islands[t]));
  if (rest.length === 0) return present;
  return replaceCut(mesh, present, rest, await unwrap(trianglesOf(mesh, rest), settings, onProgress));
}

/** Several cut meshes as one layout, with the island of each triangle and the object of each island. */
function endToEnd(group: readonly CutMesh[]): {
  layout: Layout;
  islands: Uint32Array;
  objectOf: number[];
  firstTriangles: number[];
} {
  const { positions, indices } = sceneOf(group.map(({ mesh }) => mesh));
  const uvs = new Float32Array((positions.length / 3) * 2);
  const islands = new Uint32Array(indices.length / 3);
  const objectOf: number[] = [];
  const firstTriangles: number[] = [];
  let [value, triangle] = [0, 0];
  group.forEach(({ flat, islands: own }, object) => {
    const first = objectOf.length;
    firstTriangles.push(triangle);
    uvs.set(flat, value);
    islands.set(
      own.map((island) => first + island),
      triangle,
    );
    for (let n = islandCount(own); n > 0; n--) objectOf.push(object);
    value += flat.length;
    triangle += own.length;
  });
  return { layout: { positions, uvs, indices }, islands, objectOf, firstTriangles };
}
