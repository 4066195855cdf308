import { mikkTangents } from '@zographos/core/bake';
import { boundsOf, joinMeshes, smoothNormals, type Mesh } from '@zographos/core/mesh';
import { FIRST_TILE, tileOfTriangle, tileOrigin } from '@zographos/core/uv';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import { subdivide } from './subdivide.ts';

/** What the view asks for: packed meshes by their addresses, with the frames of one UV set where they have one. */
export interface GeometryRequest {
  id: number;
  urls: string[];
  uvSet: number;
  /** Split triangles up to so many, for displacement. */
  most?: number | undefined;
}

/** Arrays ready for the graphics card. */
export interface Geometry {
  positions: Float32Array;
  normals: Float32Array;
  /** Counted from the origin of each corner's own tile. Absent for a mesh without UVs; such a mesh stays indexed. */
  uvs: Float32Array | null;
  tangents: Float32Array | null;
  indices: Uint32Array | null;
  /** The corners of each UDIM tile, which lie together. */
  tiles: { tile: number; from: number; count: number }[];
  /** The vertex of each corner among all vertices of the meshes, where corners are spread out. */
  vertices: Uint32Array | null;
  /** The triangle that each three corners are of, where corners are spread out. */
  triangles: Uint32Array | null;
  /** Smooth unit directions of the corners, along which a shell is pushed out. */
  directions: Float32Array | null;
  box: { min: [number, number, number]; max: [number, number, number] };
  centre: [number, number, number];
  radius: number;
}

export type GeometryAnswer = { id: number; geometry: Geometry } | { id: number; error: string };

self.onmessage = ({ data }: MessageEvent<GeometryRequest>) => {
  void prepare(data).then((answer) => {
    const buffers =
      'geometry' in answer ? Object.values(answer.geometry).filter((value) => ArrayBuffer.isView(value)) : [];
    self.postMessage(answer, { transfer: buffers.map((view) => view.buffer as ArrayBuffer) });
  });
};

async function prepare({ id, urls, uvSet, most }: GeometryRequest): Promise<GeometryAnswer> {
  try {
    const meshes = await Promise.all(urls.map(fetchMesh));
    const mesh = meshes.length === 1 ? meshes[0]! : joinMeshes('together', meshes);
    const geometry = mesh.uvSets[uvSet] ? withFrames(mesh, uvSet) : indexed(mesh);
    return { id, geometry: most === undefined ? geometry : split(geometry, most) };
  } catch (error) {
    return { id, error: error instanceof Error ? error.message : String(error) };
  }
}

async function fetchMesh(url: string): Promise<Mesh> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('The mesh could not be fetched from the server.');
  return unpackMesh(new Uint8Array(await response.arrayBuffer()));
}

function indexed(mesh: Mesh): Geometry {
  const { positions, normals, indices } = mesh;
  const tiles = [{ tile: FIRST_TILE, from: 0, count: indices.length }];
  return {
    ...{
      positions,
      normals,
      indices,
      tiles,
      uvs: null,
      tangents: null,
      vertices: null,
      triangles: null,
      directions: null,
    },
    ...extentOf(mesh),
  };
}

/** Tangents belong to corners, so the mesh is spread out to one vertex for each corner, tile after tile. */
function withFrames(mesh: Mesh, uvSet: number): Geometry {
  const { positions, normals, indices } = mesh;
  const uvs = mesh.uvSets[uvSet]!.coords;
  const corners = indices.length;
  const tangents = mikkTangents({ positions, normals, uvs, indices });
  const smooth = smoothNormals(positions, indices);
  const { order, tiles } = byTile(uvs, indices);
  const spread = {
    positions: new Float32Array(corners * 3),
    normals: new Float32Array(corners * 3),
    uvs: new Float32Array(corners * 2),
    tangents: new Float32Array(corners * 4),
    vertices: new Uint32Array(corners),
    directions: new Float32Array(corners * 3),
  };
  for (const { tile, from, count } of tiles) {
    const [u0, v0] = tileOrigin(tile);
    for (let c = from; c < from + count; c++) {
      const corner = order[Math.floor(c / 3)]! * 3 + (c % 3);
      const v = indices[corner]!;
      for (let k = 0; k < 3; k++) {
        spread.positions[c * 3 + k] = positions[v * 3 + k]!;
        spread.normals[c * 3 + k] = normals[v * 3 + k]!;
        spread.directions[c * 3 + k] = smooth[v * 3 + k]!;
      }
      for (let k = 0; k < 4; k++) spread.tangents[c * 4 + k] = tangents[corner * 4 + k]!;
      spread.uvs[c * 2] = uvs[v * 2]! - u0;
      spread.uvs[c * 2 + 1] = uvs[v * 2 + 1]! - v0;
      spread.vertices[c] = v;
    }
  }
  return { ...spread, triangles: order, tiles, indices: null, ...extentOf(mesh) };
}

/** Finer triangles, for what is displaced; which vertex or triangle a corner was of is no longer told. */
function split(geometry: Geometry, most: number): Geometry {
  const { positions, normals, uvs, directions, tangents } = geometry;
  if (!uvs || !directions || !tangents) return geometry;
  const [p, n, u, d, t] = subdivide(
    [
      { values: positions, size: 3 },
      { values: normals, size: 3 },
      { values: uvs, size: 2 },
      { values: directions, size: 3 },
      { values: tangents, size: 4 },
    ],
    most,
  ) as [Float32Array, Float32Array, Float32Array, Float32Array, Float32Array];
  const times = p.length / positions.length;
  const tiles = geometry.tiles.map(({ tile, from, count }) => ({ tile, from: from * times, count: count * times }));
  return {
    ...geometry,
    positions: p,
    normals: n,
    uvs: u,
    directions: d,
    tangents: t,
    tiles,
    vertices: null,
    triangles: null,
  };
}

/** Triangles in the order of their tiles. */
function byTile(uvs: Float32Array, indices: Uint32Array): { order: Uint32Array; tiles: Geometry['tiles'] } {
  const tileOf = Uint16Array.from(
    { length: indices.length / 3 },
    (_, t) => tileOfTriangle({ uvs, indices }, t) ?? FIRST_TILE,
  );
  const order = Uint32Array.from(tileOf, (_, t) => t).sort((a, b) => tileOf[a]! - tileOf[b]! || a - b);
  const tiles: Geometry['tiles'] = [];
  order.forEach((t, i) => {
    const last = tiles.at(-1);
    if (last && last.tile === tileOf[t]) last.count += 3;
    else tiles.push({ tile: tileOf[t]!, from: i * 3, count: 3 });
  });
  return { order, tiles };
}

function extentOf({ positions }: Mesh): Pick<Geometry, 'box' | 'centre' | 'radius'> {
  const { min, max } = boundsOf(positions);
  const centre: Geometry['centre'] = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  return {
    box: { min, max },
    centre,
    radius: Math.hypot(max[0] - centre[0], max[1] - centre[1], max[2] - centre[2]) || 1,
  };
}
