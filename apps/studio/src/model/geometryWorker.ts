import { boundsOf, mikkTangents, type Mesh } from '@zographos/core';
import { unpackMesh } from '@zographos/formats/packed-mesh';

/** What the view asks for: a packed mesh by its address, with the frames of one UV set where it has one. */
export interface GeometryRequest {
  id: number;
  url: string;
  uvSet: number;
}

/** Arrays ready for the graphics card. */
export interface Geometry {
  positions: Float32Array;
  normals: Float32Array;
  /** Absent for a mesh without UVs; such a mesh stays indexed. */
  uvs: Float32Array | null;
  tangents: Float32Array | null;
  indices: Uint32Array | null;
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

async function prepare({ id, url, uvSet }: GeometryRequest): Promise<GeometryAnswer> {
  try {
    const response = await fetch(url);
    if (!response.ok) throw new Error('The mesh could not be fetched from the server.');
    const mesh = unpackMesh(new Uint8Array(await response.arrayBuffer()));
    return { id, geometry: mesh.uvSets[uvSet] ? withFrames(mesh, uvSet) : indexed(mesh) };
  } catch (error) {
    return { id, error: error instanceof Error ? error.message : String(error) };
  }
}

function indexed(mesh: Mesh): Geometry {
  const { positions, normals, indices } = mesh;
  return { positions, normals, indices, uvs: null, tangents: null, ...sphere(mesh) };
}

/** Tangents belong to corners, so the mesh is spread out to one vertex for each corner. */
function withFrames(mesh: Mesh, uvSet: number): Geometry {
  const { positions, normals, indices } = mesh;
  const uvs = mesh.uvSets[uvSet]!.coords;
  const corners = indices.length;
  const spread: Geometry = {
    positions: new Float32Array(corners * 3),
    normals: new Float32Array(corners * 3),
    uvs: new Float32Array(corners * 2),
    tangents: mikkTangents({ positions, normals, uvs, indices }),
    indices: null,
    ...sphere(mesh),
  };
  for (let c = 0; c < corners; c++) {
    const v = indices[c]!;
    for (let k = 0; k < 3; k++) {
      spread.positions[c * 3 + k] = positions[v * 3 + k]!;
      spread.normals[c * 3 + k] = normals[v * 3 + k]!;
    }
    for (let k = 0; k < 2; k++) spread.uvs![c * 2 + k] = uvs[v * 2 + k]!;
  }
  return spread;
}

function sphere({ positions }: Mesh): Pick<Geometry, 'centre' | 'radius'> {
  const { min, max } = boundsOf(positions);
  const centre: Geometry['centre'] = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  return { centre, radius: Math.hypot(max[0] - centre[0], max[1] - centre[1], max[2] - centre[2]) || 1 };
}
