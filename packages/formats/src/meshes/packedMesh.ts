import { ZographosError } from '@zographos/core/errors';
import type { Material, Mesh } from '@zographos/core/mesh';
import { viewOf } from './read/bytes.ts';

/**
 * The form in which meshes are kept and sent between our own parts: "ZMSH", the length of a JSON header, the
 * header padded to a multiple of four, then the arrays one after another in little-endian order. The same
 * mesh always packs to the same bytes, so their hash stands for its content.
 */
const MAGIC = 0x48534d5a;

interface PackedHeader {
  version: 1;
  name: string;
  vertices: number;
  triangles: number;
  uvSets: string[];
  colors: boolean;
  slots: string[];
  /** Stacks of shared islands for each UV set, where there are any. */
  shared?: number[][][];
  materials?: Material[];
  pictures?: { name: string; length: number }[];
}

export function packMesh(mesh: Mesh): Uint8Array<ArrayBuffer> {
  const { pictures } = mesh;
  const header: PackedHeader = {
    version: 1,
    name: mesh.name,
    vertices: mesh.positions.length / 3,
    triangles: mesh.indices.length / 3,
    uvSets: mesh.uvSets.map((set) => set.name),
    colors: mesh.colors !== null,
    slots: mesh.slots,
    ...(mesh.uvSets.some(({ shared }) => shared?.length)
      ? { shared: mesh.uvSets.map(({ shared }) => shared ?? []) }
      : {}),
    ...(mesh.materials ? { materials: mesh.materials } : {}),
    ...(pictures ? { pictures: pictures.map(({ name, bytes }) => ({ name, length: bytes.length })) } : {}),
  };
  const json = new TextEncoder().encode(JSON.stringify(header));
  const headerBytes = Math.ceil(json.length / 4) * 4;
  const arrays = [
    mesh.positions,
    mesh.normals,
    ...mesh.uvSets.map((set) => set.coords),
    ...(mesh.colors ? [mesh.colors] : []),
    mesh.indices,
    mesh.triangleSlots,
    ...(pictures ?? []).map(({ bytes }) => bytes),
  ];
  const packed = new Uint8Array(8 + headerBytes + arrays.reduce((sum, array) => sum + array.byteLength, 0));
  const view = viewOf(packed);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, headerBytes, true);
  packed.set(json, 8);
  packed.fill(32, 8 + json.length, 8 + headerBytes);
  let at = 8 + headerBytes;
  for (const array of arrays) {
    packed.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
    at += array.byteLength;
  }
  return packed;
}

/** @throws input/unreadable-file when the bytes are not a packed mesh */
export function unpackMesh(bytes: Uint8Array): Mesh {
  const view = viewOf(bytes);
  if (bytes.length < 8 || view.getUint32(0, true) !== MAGIC) {
    throw new ZographosError('input/unreadable-file', 'These bytes are not a packed mesh.');
  }
  const headerBytes = view.getUint32(4, true);
  if (bytes.length < 8 + headerBytes) {
    throw new ZographosError('input/unreadable-file', 'This packed mesh is cut off.');
  }
  const header = JSON.parse(new TextDecoder().decode(bytes.subarray(8, 8 + headerBytes))) as PackedHeader;
  let at = 8 + headerBytes;
  // Copies rather than views: a slice of a network buffer need not be aligned.
  const take = (length: number): ArrayBuffer => {
    const part = new Uint8Array(bytes.subarray(at, at + length));
    if (part.byteLength !== length) {
      throw new ZographosError('input/unreadable-file', 'This packed mesh is cut off.');
    }
    at += length;
    return part.buffer;
  };
  return {
    name: header.name,
    positions: new Float32Array(take(header.vertices * 12)),
    normals: new Float32Array(take(header.vertices * 12)),
    uvSets: header.uvSets.map((name, i) => ({
      name,
      coords: new Float32Array(take(header.vertices * 8)),
      ...(header.shared?.[i]?.length ? { shared: header.shared[i] } : {}),
    })),
    colors: header.colors ? new Float32Array(take(header.vertices * 16)) : null,
    indices: new Uint32Array(take(header.triangles * 12)),
    slots: header.slots,
    triangleSlots: new Uint16Array(take(header.triangles * 2)),
    ...(header.materials ? { materials: header.materials } : {}),
    ...(header.pictures
      ? { pictures: header.pictures.map(({ name, length }) => ({ name, bytes: new Uint8Array(take(length)) })) }
      : {}),
  };
}
