import type { Size } from '@zographos/core/math';
import type { Mesh } from '@zographos/core/mesh';
import { sceneOf } from '@zographos/core/trace';
import {
  borderCorners,
  checkLayout,
  evenDensityMoves,
  islandBoxes,
  islandCount,
  islandNumbers,
  layoutOf,
  type Layout,
  type LayoutCheck,
  type UvMatrix,
} from '@zographos/core/uv';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import { layoutFindings, type LayoutFinding } from '@zographos/operations';

/** What the room asks for: the layout of meshes that lie on it together, or what is good and bad about it. */
export type LayoutQuestion =
  | { id: number; what: 'layout'; urls: string[]; uvSets: number[] }
  | {
      id: number;
      what: 'check';
      urls: string[];
      uvSets: number[];
      size: Size;
      padding: number;
      tiles: number[] | 'all';
    };

/** A layout as it is drawn and edited. */
export interface LaidMeshes {
  /** u, v of each corner of each triangle. */
  corners: Float32Array;
  /** Where each triangle's middle lies in space. */
  places: Float32Array;
  islandOf: Uint32Array;
  /** The mesh of each island, and how many islands come before those of each mesh. */
  meshOf: Uint16Array;
  firstIslands: number[];
  firstTriangles: number[];
  /** Corners at which edges of islands' borders begin. */
  borders: Uint32Array;
  /** u0, v0, u1, v1 of each island. */
  boxes: Float32Array;
  /** Stacks of islands that lie on each other on purpose. */
  stacks: number[][];
}

export interface CheckedLayout {
  check: LayoutCheck;
  findings: LayoutFinding[];
  /** What would give each island the mean texel density. */
  evenMoves: { islands: number[]; matrix: UvMatrix }[];
}

export type LayoutReply =
  { id: number; layout: LaidMeshes } | { id: number; checked: CheckedLayout } | { id: number; error: string };

self.onmessage = ({ data }: MessageEvent<LayoutQuestion>) => {
  void answer(data).then(
    (reply) => self.postMessage(reply, { transfer: 'layout' in reply ? buffersOf(reply.layout) : [] }),
    (error: unknown) => {
      const text = error instanceof Error ? error.message : String(error);
      self.postMessage({ id: data.id, error: text } satisfies LayoutReply);
    },
  );
};

const buffersOf = (layout: LaidMeshes): Transferable[] =>
  Object.values(layout)
    .filter((value) => ArrayBuffer.isView(value))
    .map((view) => view.buffer as ArrayBuffer);

async function answer(question: LayoutQuestion): Promise<LayoutReply> {
  const { id, urls, uvSets } = question;
  const meshes = await Promise.all(urls.map(meshAt));
  const together = layoutOfAll(meshes, uvSets);
  if (question.what === 'layout') return { id, layout: laidMeshes(together) };
  const { layout, islandOf, shared } = together;
  const { size, padding, tiles } = question;
  const check = checkLayout(layout, { size, padding, tiles, shared, islandOf });
  const findings = layoutFindings(layout, check, padding);
  const all = Array.from({ length: check.islands }, (_, island) => island);
  return { id, checked: { check, findings, evenMoves: evenDensityMoves(layout, islandOf, all) } };
}

/** The meshes that were asked for last; checks follow each other on the same ones. */
const kept = new Map<string, Promise<Mesh>>();
const MOST_KEPT = 8;

function meshAt(url: string): Promise<Mesh> {
  const known = kept.get(url);
  if (known) return known;
  const mesh = fetchMesh(url);
  kept.set(url, mesh);
  mesh.catch(() => kept.delete(url));
  for (const oldest of kept.keys()) {
    if (kept.size <= MOST_KEPT) break;
    kept.delete(oldest);
  }
  return mesh;
}

async function fetchMesh(url: string): Promise<Mesh> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('The mesh could not be fetched from the server.');
  return unpackMesh(new Uint8Array(await response.arrayBuffer()));
}

interface Together {
  layout: Layout;
  islandOf: Uint32Array;
  shared: number[][];
  firstTriangles: number[];
  firstIslands: number[];
}

/** Meshes end to end; islands of two meshes are never one, wherever they lie. */
function layoutOfAll(meshes: readonly Mesh[], uvSets: readonly number[]): Together {
  const { positions, indices } = sceneOf(meshes);
  const uvs = new Float32Array((positions.length / 3) * 2);
  const islandOf = new Uint32Array(indices.length / 3);
  const together: Together = {
    layout: { positions, uvs, indices },
    islandOf,
    shared: [],
    firstTriangles: [],
    firstIslands: [],
  };
  let [value, triangle, island] = [0, 0, 0];
  meshes.forEach((mesh, i) => {
    const own = layoutOf(mesh, uvSets[i]!);
    const numbers = islandNumbers(own);
    uvs.set(own.uvs, value);
    islandOf.set(
      numbers.map((number) => number + island),
      triangle,
    );
    together.firstTriangles.push(triangle);
    together.firstIslands.push(island);
    const first = triangle;
    for (const stack of mesh.uvSets[uvSets[i]!]!.shared ?? []) together.shared.push(stack.map((t) => t + first));
    value += own.uvs.length;
    triangle += numbers.length;
    island += islandCount(numbers);
  });
  return together;
}

function laidMeshes({ layout, islandOf, shared, firstTriangles, firstIslands }: Together): LaidMeshes {
  const { positions, uvs, indices } = layout;
  const corners = new Float32Array(indices.length * 2);
  const places = new Float32Array(indices.length);
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]!;
    corners[i * 2] = uvs[v * 2]!;
    corners[i * 2 + 1] = uvs[v * 2 + 1]!;
    const place = Math.floor(i / 3) * 3;
    for (let k = 0; k < 3; k++) places[place + k]! += positions[v * 3 + k]! / 3;
  }
  const boxes = islandBoxes(layout, islandOf);
  const meshOf = Uint16Array.from({ length: boxes.length / 4 }, (_, island) => {
    let mesh = firstIslands.length - 1;
    while (firstIslands[mesh]! > island) mesh--;
    return mesh;
  });
  return {
    ...{ corners, places, islandOf, meshOf, firstIslands, firstTriangles, boxes },
    borders: borderCorners(layout, islandOf),
    stacks: shared.map((stack) => stack.map((t) => islandOf[t]!)),
  };
}
