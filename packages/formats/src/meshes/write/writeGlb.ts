import { Document, WebIO, type Accessor, type Buffer } from '@gltf-transform/core';
import { KHRTextureTransform } from '@gltf-transform/extensions';
import { vertexTangents } from '@zographos/core/bake';
import { srgbToLinear } from '@zographos/core/color';
import { PLAIN_MATERIAL, type Mesh } from '@zographos/core/mesh';
import type { NamedFile } from '../meshFile.ts';
import { MaterialWriter } from './writeGltfMaterials.ts';

/**
 * Writes objects as binary glTF 2.0 with all their UV sets in order, colours, material slots and pictures. Triangles
 * stay as they are, so that maps baked on them fit.
 */
export async function writeGlb(meshes: readonly Mesh[]): Promise<Uint8Array<ArrayBuffer>> {
  return await writer().writeBinary(await documentOf(meshes));
}

/** The same with its pictures as files beside it, the GLB first. @param name of the GLB, without its ending */
export async function writeGlbBeside(name: string, meshes: readonly Mesh[]): Promise<[NamedFile, ...NamedFile[]]> {
  const { json, resources } = await writer().writeJSON(await documentOf(meshes), { basename: name });
  const pictures = (json.images ?? []).flatMap(({ uri }) => (uri ? [{ name: uri, bytes: resources[uri]! }] : []));
  const [buffer] = json.buffers ?? [];
  const binary = buffer?.uri ? resources[buffer.uri]! : new Uint8Array(0);
  // The buffer of a GLB is its second chunk, and has no address.
  if (buffer) delete buffer.uri;
  return [{ name: `${name}.glb`, bytes: glbOf(JSON.stringify(json), binary) }, ...pictures];
}

/** The binary container of glTF 2.0: a header and two chunks, each filled up to a multiple of four. */
function glbOf(json: string, binary: Uint8Array): Uint8Array<ArrayBuffer> {
  const text = new TextEncoder().encode(json);
  const [textBytes, binaryBytes] = [text, binary].map(({ length }) => Math.ceil(length / 4) * 4) as [number, number];
  const bytes = new Uint8Array(12 + 8 + textBytes + 8 + binaryBytes);
  const view = new DataView(bytes.buffer);
  [GLB_MAGIC, 2, bytes.length, textBytes, JSON_CHUNK].forEach((value, i) => view.setUint32(i * 4, value, true));
  bytes.fill(32, 20, 20 + textBytes).set(text, 20);
  view.setUint32(20 + textBytes, binaryBytes, true);
  view.setUint32(24 + textBytes, BIN_CHUNK, true);
  bytes.set(binary, 28 + textBytes);
  return bytes;
}

const [GLB_MAGIC, JSON_CHUNK, BIN_CHUNK] = [0x46546c67, 0x4e4f534a, 0x004e4942];

function writer(): WebIO {
  const io = new WebIO().registerExtensions([KHRTextureTransform]);
  io.setLogger({ debug() {}, info() {}, warn() {}, error() {} });
  return io;
}

async function documentOf(meshes: readonly Mesh[]): Promise<Document> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Zographos';
  const buffer = document.createBuffer();
  const scene = document.createScene('scene');
  document.getRoot().setDefaultScene(scene);
  const materials = new MaterialWriter(document);
  for (const given of meshes) {
    const { mesh, tangents } = prepared(given);
    const written = document.createMesh(mesh.name);
    // glTF only counts UV sets; their names go along for whoever reads them.
    written.setExtras({ uvSets: mesh.uvSets.map(({ name }) => name) });
    const attributes = attributesOf(document, buffer, mesh, tangents);
    for (const [slot, indices] of trianglesBySlot(mesh)) {
      const primitive = document
        .createPrimitive()
        .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer))
        .setMaterial(await materials.write(mesh.slots[slot]!, mesh.materials?.[slot] ?? PLAIN_MATERIAL, mesh));
      for (const [semantic, accessor] of attributes) primitive.setAttribute(semantic, accessor);
      written.addPrimitive(primitive);
    }
    scene.addChild(document.createNode(mesh.name).setMesh(written));
  }
  return document;
}

/** With normal pictures, glTF wants tangents: those that maps are baked with. */
function prepared(mesh: Mesh): { mesh: Mesh; tangents: Float32Array | null } {
  const use = mesh.materials?.find(({ pictures }) => pictures.normal)?.pictures.normal;
  return use && mesh.uvSets[use.uvSet] ? vertexTangents(mesh, use.uvSet) : { mesh, tangents: null };
}

function attributesOf(
  document: Document,
  buffer: Buffer,
  mesh: Mesh,
  tangents: Float32Array | null,
): Map<string, Accessor> {
  const attributes = new Map<string, Accessor>();
  const add = (semantic: string, type: 'VEC2' | 'VEC3' | 'VEC4', values: Float32Array): void => {
    const array = new Float32Array(values);
    attributes.set(semantic, document.createAccessor().setType(type).setArray(array).setBuffer(buffer));
  };
  add('POSITION', 'VEC3', mesh.positions);
  add('NORMAL', 'VEC3', unitVectors(mesh.normals));
  // Bitangents follow green, which is up; since v is counted upwards here, no sign changes.
  if (tangents) add('TANGENT', 'VEC4', tangents);
  // glTF counts v from the top of the picture.
  mesh.uvSets.forEach(({ coords }, set) =>
    add(
      `TEXCOORD_${set}`,
      'VEC2',
      coords.map((value, i) => (i % 2 === 1 ? 1 - value : value)),
    ),
  );
  if (mesh.colors) add('COLOR_0', 'VEC4', colorsAsLight(mesh));
  return attributes;
}

/** Triangles of each slot that has any, as 16-bit numbers where these do. */
function trianglesBySlot({ indices, triangleSlots, positions }: Mesh): Map<number, Uint16Array | Uint32Array> {
  const lists = new Map<number, number[]>();
  for (let t = 0; t < triangleSlots.length; t++) {
    const list = lists.get(triangleSlots[t]!) ?? [];
    lists.set(triangleSlots[t]!, list);
    list.push(indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!);
  }
  const wide = positions.length / 3 > 65535;
  return new Map([...lists].map(([slot, list]) => [slot, wide ? Uint32Array.from(list) : Uint16Array.from(list)]));
}

/** glTF wants unit normals; one of length zero, of a vertex that no face has, becomes any. */
function unitVectors(normals: Float32Array): Float32Array {
  const unit = normals.slice();
  for (let i = 0; i < unit.length; i += 3) {
    const length = Math.hypot(unit[i]!, unit[i + 1]!, unit[i + 2]!);
    if (length > 0) for (let k = 0; k < 3; k++) unit[i + k]! /= length;
    else unit.set([0, 0, 1], i);
  }
  return unit;
}

/** glTF keeps vertex colours as light; in other files they are meant for the eye. */
function colorsAsLight({ colors, materials }: Mesh): Float32Array {
  const isLight = materials?.some(({ tinted }) => tinted) ?? false;
  return colors!.map((value, i) => (isLight || i % 4 === 3 ? value : srgbToLinear(value)));
}
