import { Atlas, Initialize, type Mesh as Unwrapped } from 'watlas';
import {
  degenerateTriangles,
  joinPoles,
  nextCorner,
  pickVertices,
  weldPositions,
  type Mesh,
} from '@zographos/core/mesh';
import { doubleUvArea, foldedClusters, unwrapDense, type CutMesh } from '@zographos/core/uv';
import { joinCuts, replaceCut, trianglesOf } from './joinCuts.ts';
import type { LayoutSettings } from './settings.ts';

/** Up to so many triangles, charts are grown by cost; with more, and least of all on smooth ones, that takes minutes. */
const LIGHT = 6000;
/** Edges count as hard where normals differ by more than this, as the cosine. */
const HARD = 0.999;

/**
 * Cuts a mesh into islands and lays them flat in mesh units. Light meshes: xatlas (charts that bend little, laid flat by
 * least squares conformal maps), which tells nothing while it works and is stopped by nothing but the end of its thread.
 * Dense ones: cones of normals, laid flat as rigidly as possible. Triangles without area lie on one point of a
 * neighbour, where they take no room.
 */
export async function unwrap(
  mesh: Mesh,
  settings: LayoutSettings,
  onProgress: (share: number) => void,
): Promise<CutMesh> {
  const degenerate = degenerateTriangles(mesh.positions, mesh.indices);
  if (degenerate.length === 0) return unwrapSolid(mesh, settings, onProgress);
  const without = new Set(degenerate);
  const solid = [...new Uint32Array(mesh.indices.length / 3).keys()].filter((t) => !without.has(t));
  if (solid.length === 0) return onOnePoint(mesh);
  // What hangs together at a pole is cut and laid flat as one.
  const positions = joinPoles(mesh.positions, mesh.indices, degenerate);
  const cut = await unwrapSolid({ ...trianglesOf(mesh, solid), positions }, settings, onProgress);
  return joinCuts(mesh, [
    { cut, triangles: solid },
    { cut: besides({ ...trianglesOf(mesh, degenerate), positions }, cut), triangles: degenerate },
  ]);
}

function unwrapSolid(mesh: Mesh, settings: LayoutSettings, onProgress: (share: number) => void): Promise<CutMesh> {
  if (mesh.indices.length / 3 <= LIGHT) return unwrapLight(mesh, settings);
  const { seams, uvSet } = settings;
  const angle = Math.min(80, BEND_ANGLE * Math.sqrt(seams.bend / 2));
  return Promise.resolve(unwrapDense(mesh, angle, cutsOf(mesh, seams, uvSet), onProgress));
}

/** A mesh that has no area at all. */
const onOnePoint = (mesh: Mesh): CutMesh => ({
  mesh,
  flat: new Float32Array((mesh.positions.length / 3) * 2),
  islands: new Uint32Array(mesh.indices.length / 3),
});

/** Triangles without area, each on one point of a cut mesh that has a corner in the same place. */
function besides(part: Mesh, cut: CutMesh): CutMesh {
  const own = pickVertices(
    part,
    part.indices,
    new Uint32Array(part.indices.length).map((_, i) => i),
  );
  const first = cut.mesh.positions.length / 3;
  const both = new Float32Array(cut.mesh.positions.length + own.positions.length);
  both.set(cut.mesh.positions);
  both.set(own.positions, first * 3);
  const places = weldPositions(both);
  // What lies at each place: the last corner there, and the island of its triangle.
  const cornerAt = new Map<number, number>();
  cut.mesh.indices.forEach((v, corner) => cornerAt.set(places[v]!, corner));
  const flat = new Float32Array(own.indices.length * 2);
  const islands = new Uint32Array(own.indices.length / 3);
  for (let t = 0; t < islands.length; t++) {
    const corners = [0, 1, 2].map((c) => cornerAt.get(places[first + t * 3 + c]!));
    const beside = corners.find((corner) => corner !== undefined) ?? 0;
    islands[t] = cut.islands[Math.floor(beside / 3)]!;
    const v = cut.mesh.indices[beside]!;
    for (let c = 0; c < 3; c++) flat.set(cut.flat.subarray(v * 2, v * 2 + 2), (t * 3 + c) * 2);
  }
  return { mesh: own, flat, islands };
}

/** Degrees that an island may bend away from its mean, at the usual setting. */
const BEND_ANGLE = 50;

/** Edges that are cut in any case. */
function cutsOf(
  { indices, normals, uvSets }: Mesh,
  { hardEdges, existing }: LayoutSettings['seams'],
  uvSet: number,
): (here: number, there: number) => boolean {
  const uvs = existing ? uvSets[uvSet]?.coords : undefined;
  const alike = (a: number, b: number): boolean =>
    normals[a * 3]! * normals[b * 3]! +
      normals[a * 3 + 1]! * normals[b * 3 + 1]! +
      normals[a * 3 + 2]! * normals[b * 3 + 2]! >=
    HARD;
  return (here, there) => {
    const [a, b] = [indices[here]!, indices[nextCorner(here)]!];
    const [c, d] = [indices[nextCorner(there)]!, indices[there]!];
    if (hardEdges > 0.75 && !(alike(a, c) && alike(b, d))) return true;
    return (
      uvs !== undefined &&
      (uvs[a * 2] !== uvs[c * 2] ||
        uvs[a * 2 + 1] !== uvs[c * 2 + 1] ||
        uvs[b * 2] !== uvs[d * 2] ||
        uvs[b * 2 + 1] !== uvs[d * 2 + 1])
    );
  };
}

async function unwrapLight(mesh: Mesh, settings: LayoutSettings): Promise<CutMesh> {
  const { seams, uvSet } = settings;
  await Initialize();
  const { positions, normals, indices, uvSets } = mesh;
  const atlas = new Atlas();
  try {
    const texture = seams.existing ? uvSets[uvSet]?.coords : undefined;
    atlas.addMesh({
      vertexPositionData: positions,
      vertexCount: positions.length / 3,
      vertexPositionStride: 12,
      vertexNormalData: normals,
      vertexNormalStride: 12,
      ...(texture ? { vertexUvData: texture, vertexUvStride: 8 } : {}),
      indexData: indices,
      indexCount: indices.length,
      // Vertices that are split for their normals alone belong together: exactly those at one place.
      epsilon: 0,
    });
    atlas.computeCharts({
      maxCost: seams.bend,
      normalSeamWeight: seams.hardEdges * 8,
      textureSeamWeight: texture ? 4 : 0,
      fixWinding: true,
    });
    // Packed only so that the result is written; islands get their places later.
    atlas.packCharts({ resolution: 0, texelsPerUnit: 0, padding: 0, bilinear: false, rotateCharts: false });
    return withoutFolds(mesh, takeOver(mesh, atlas.getMesh(0), atlas.texelsPerUnit || 1), settings);
  } finally {
    atlas.delete();
  }
}

/** Charts that lie on themselves, as least squares may lay them, are cut again into what does not. */
function withoutFolds(mesh: Mesh, cut: CutMesh, { seams, uvSet }: LayoutSettings): CutMesh {
  const { positions, indices } = cut.mesh;
  const folded = foldedClusters({ positions, uvs: cut.flat, indices }, cut.islands);
  if (folded.size === 0) return cut;
  const rest = [...cut.islands.keys()].filter((t) => folded.has(cut.islands[t]!));
  const part = trianglesOf(mesh, rest);
  return replaceCut(mesh, cut, rest, unwrapDense(part, BEND_ANGLE, cutsOf(part, seams, uvSet)));
}

function takeOver(mesh: Mesh, unwrapped: Unwrapped, texelsPerUnit: number): CutMesh {
  const vertices = unwrapped.vertexCount;
  const indices = new Uint32Array(unwrapped.indexCount);
  unwrapped.getIndexArray(indices);
  const sources = new Uint32Array(vertices);
  const flat = new Float32Array(vertices * 2);
  const chartOf = new Int32Array(vertices);
  for (let v = 0; v < vertices; v++) {
    const { xref, uv, chartIndex } = unwrapped.getVertex(v);
    sources[v] = xref;
    chartOf[v] = chartIndex;
    flat[v * 2] = uv[0] / texelsPerUnit;
    flat[v * 2 + 1] = uv[1] / texelsPerUnit;
  }
  const cut = pickVertices(mesh, sources, indices);
  const islands = Uint32Array.from({ length: indices.length / 3 }, (_, t) => chartOf[indices[t * 3]!]!);
  return { mesh: cut, flat: upright(indices, flat, islands), islands };
}

/** The same islands, with those turned over that lie mirrored. */
function upright(indices: Uint32Array, flat: Float32Array, islands: Uint32Array): Float32Array {
  const areas = new Map<number, number>();
  islands.forEach((island, t) => areas.set(island, (areas.get(island) ?? 0) + doubleUvArea({ uvs: flat, indices }, t)));
  const turned = flat.slice();
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]!;
    if (areas.get(islands[Math.floor(i / 3)]!)! < 0) turned[v * 2] = -flat[v * 2]!;
  }
  return turned;
}
