import { DisjointSets } from '../math/disjointSets.ts';
import { boundsOf, type Bounds } from '../mesh/bounds.ts';
import { degenerateTriangles } from '../mesh/degenerate.ts';
import { triangleCount, vertexCount, type Mesh } from '../mesh/mesh.ts';
import { coveringLayout, isWithinTile, layoutOf, mirroredTriangles, type Layout } from '../uv/layout.ts';
import { islandNumbers } from '../uv/islands/islands.ts';
import { findOverlaps } from '../uv/check/overlaps.ts';
import { isSharedStack } from '../uv/islands/stackedIslands.ts';
import { tilesOf } from '../uv/udim.ts';
import { weldPositions } from '../mesh/weld.ts';

export type FindingKind =
  | 'no-uvs'
  | 'uvs-outside-tile'
  | 'degenerate-triangles'
  | 'missing-normals'
  | 'inside-out'
  | 'open-edges'
  | 'not-finite'
  | 'udim-tiles'
  | 'overlapping-uvs'
  | 'mirrored-uvs'
  | 'missing-pictures';

/** Something about a mesh that the artist should know before using it. */
export interface Finding {
  kind: FindingKind;
  severity: 'note' | 'warning' | 'error';
  /** How many triangles, edges, vertices or parts are concerned. */
  count: number;
  /** One sentence: what it is and what it means for the work. */
  sentence: string;
}

export interface MeshInspection {
  triangles: number;
  vertices: number;
  uvSets: string[];
  /** The UDIM tiles that each UV set has islands in. */
  uvTiles: number[][];
  slots: string[];
  hasColors: boolean;
  bounds: Bounds;
  findings: Finding[];
}

/**
 * Measures a mesh and says what is wrong with it.
 * @param computedNormals true when the file had no normals and they were computed
 * @param droppedTriangles triangles left out on reading because a coordinate was not a finite number
 * @param missingPictures names of pictures that its materials want and that were not there
 */
export function inspectMesh(
  mesh: Mesh,
  {
    computedNormals = false,
    droppedTriangles = 0,
    missingPictures = [],
  }: { computedNormals?: boolean; droppedTriangles?: number; missingPictures?: readonly string[] } = {},
): MeshInspection {
  const findings: Finding[] = [];
  const add = (kind: FindingKind, severity: Finding['severity'], count: number, text: string): void => {
    if (count > 0) findings.push({ kind, severity, count, sentence: `${number(count)} ${text}` });
  };
  add('not-finite', 'error', droppedTriangles, 'triangles had coordinates that are not numbers and were left out.');
  if (mesh.uvSets.length === 0) {
    findings.push({
      kind: 'no-uvs',
      severity: 'warning',
      count: 1,
      sentence: 'No UVs: it can be a source, but not a receiver until it has a UV set.',
    });
  }
  const uvTiles = mesh.uvSets.map(({ coords }) => [...tilesOf(coords, mesh.indices).tiles.keys()]);
  if (uvTiles[0] && uvTiles[0].length > 1) {
    const list = uvTiles[0].length > 6 ? `${uvTiles[0].slice(0, 6).join(', ')} …` : uvTiles[0].join(', ');
    findings.push({
      kind: 'udim-tiles',
      severity: 'note',
      count: uvTiles[0].length,
      sentence: `Its islands lie in ${uvTiles[0].length} UDIM tiles: ${list}.`,
    });
  }
  if (missingPictures.length > 0) {
    findings.push({
      kind: 'missing-pictures',
      severity: 'warning',
      count: missingPictures.length,
      sentence: `Its materials name pictures that were not there: ${missingPictures.join(', ')}. Bring them in together with the mesh.`,
    });
  }
  const layout = mesh.uvSets.length > 0 ? coveringLayout(layoutOf(mesh, 0)) : null;
  add('uvs-outside-tile', 'note', trianglesOutsideTile(layout), 'triangles have UVs outside the first tile (0 to 1).');
  const { overlapping, mirrored } = layoutTroubles(mesh, layout);
  add(
    'overlapping-uvs',
    'note',
    overlapping,
    'triangles overlap others in the first UV set. As a receiver they would share texels; unwrap the mesh first.',
  );
  add(
    'mirrored-uvs',
    'note',
    mirrored,
    'triangles lie mirrored in the layout; lettering on them would read backwards.',
  );
  const degenerate = degenerateTriangles(mesh.positions, mesh.indices).length;
  add(
    'degenerate-triangles',
    'note',
    degenerate,
    degenerate === 1
      ? 'triangle has no area: it takes no texels, and rays pass through it.'
      : 'triangles have no area: they take no texels, and rays pass through them.',
  );
  if (computedNormals) {
    findings.push({
      kind: 'missing-normals',
      severity: 'note',
      count: vertexCount(mesh),
      sentence: 'The file had no normals; smooth, angle-weighted ones were computed.',
    });
  }
  const { openEdges, insideOutParts } = topology(mesh);
  add(
    'inside-out',
    'warning',
    insideOutParts,
    'closed parts are inside out: their faces point inwards and rays ignore them. Flip them in the modeller.',
  );
  add('open-edges', 'note', openEdges, 'edges are open: the surface has a border there.');
  return {
    triangles: triangleCount(mesh),
    vertices: vertexCount(mesh),
    uvSets: mesh.uvSets.map((set) => set.name),
    uvTiles,
    slots: mesh.slots,
    hasColors: mesh.colors !== null,
    bounds: boundsOf(mesh.positions),
    findings,
  };
}

const number = (value: number): string => value.toLocaleString('en-GB').replaceAll(',', ' ');

function trianglesOutsideTile(layout: Layout | null): number {
  let count = 0;
  for (let t = 0; layout && t < layout.indices.length / 3; t++) if (!isWithinTile(layout, t)) count++;
  return count;
}

/** Pairs of triangles looked at for overlaps: a source may be tiled thousands of times over itself. */
const MOST_LOOKS = 40_000_000;

/** Triangles of the first layout that lie on others, and those that are mirrored against most. */
function layoutTroubles(mesh: Mesh, layout: Layout | null): { overlapping: number; mirrored: number } {
  if (!layout) return { overlapping: 0, mirrored: 0 };
  const { shared } = mesh.uvSets[0]!;
  // Which islands they are matters only where some share their room on purpose; else all may count as one.
  const islands = shared?.length ? islandNumbers(layout) : new Uint32Array(triangleCount(mesh));
  const { flagged } = findOverlaps(layout, islands, isSharedStack(shared, islands), MOST_LOOKS);
  return {
    overlapping: flagged.reduce((sum, flag) => sum + flag, 0),
    mirrored: mirroredTriangles(layout).length,
  };
}

/** Counts edges with one triangle only, and closed connected parts whose signed volume is negative. */
function topology({ positions, indices }: Mesh): { openEdges: number; insideOutParts: number } {
  const welded = weldPositions(positions);
  const triangles = indices.length / 3;
  const parts = DisjointSets.of(positions.length / 3);
  // Each undirected edge as one key; sorted, its uses stand side by side.
  const keys = new Float64Array(triangles * 3);
  const vertices = positions.length / 3;
  let edges = 0;
  for (let t = 0; t < triangles; t++) {
    for (let c = 0; c < 3; c++) {
      const a = welded[indices[t * 3 + c]!]!;
      const b = welded[indices[t * 3 + ((c + 1) % 3)]!]!;
      if (a === b) continue;
      keys[edges++] = Math.min(a, b) * vertices + Math.max(a, b);
      parts.join(a, b);
    }
  }
  const sorted = keys.subarray(0, edges).sort();
  const open = new Uint8Array(vertices);
  let openEdges = 0;
  for (let i = 0; i < edges;) {
    let end = i + 1;
    while (end < edges && sorted[end] === sorted[i]) end++;
    if (end - i === 1) {
      openEdges++;
      open[parts.find(Math.floor(sorted[i]! / vertices))] = 1;
    }
    i = end;
  }
  const volumes = new Map<number, number>();
  for (let t = 0; t < triangles; t++) {
    const root = parts.find(welded[indices[t * 3]!]!);
    if (open[root]) continue;
    // Volume against the part's own first vertex, so that a part far from the origin keeps its digits.
    const o = root * 3;
    const p = (corner: number, axis: number): number =>
      positions[indices[t * 3 + corner]! * 3 + axis]! - positions[o + axis]!;
    const volume =
      p(0, 0) * (p(1, 1) * p(2, 2) - p(1, 2) * p(2, 1)) +
      p(0, 1) * (p(1, 2) * p(2, 0) - p(1, 0) * p(2, 2)) +
      p(0, 2) * (p(1, 0) * p(2, 1) - p(1, 1) * p(2, 0));
    volumes.set(root, (volumes.get(root) ?? 0) + volume);
  }
  let insideOutParts = 0;
  for (const volume of volumes.values()) if (volume < 0) insideOutParts++;
  return { openEdges, insideOutParts };
}
