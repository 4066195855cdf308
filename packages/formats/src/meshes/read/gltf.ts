import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { PLAIN_MATERIAL, type Material, type Mesh } from '@zographos/core/mesh';
import { type Document, type Node, type Primitive, WebIO } from '@gltf-transform/core';
import {
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
} from '@gltf-transform/extensions';
import { checkObjects, checkTriangles } from '../../limits.ts';
import { headText, viewOf } from './bytes.ts';
import { checkGltfRanges, dataBytes } from './gltfRanges.ts';
import { GrowingInts } from './growing.ts';
import { completeNormals, requireTriangles } from './cornerMesh.ts';
import { GltfMaterials } from './gltfMaterials.ts';
import type { MeshFile, MeshFileObject, MeshSource } from '../meshFile.ts';
import { PictureList } from '../pictureList.ts';

/** Required extensions that do not change geometry, or that are understood. */
const ACCEPTED =
  /^(KHR_mesh_quantization|KHR_texture_transform|KHR_materials_\w+|KHR_lights_punctual|EXT_texture_webp)$/;

/**
 * Reads glTF 2.0, as GLB or as JSON with its buffers beside it. Each node with a mesh becomes an object in
 * world space; its primitives become material slots.
 * @throws input/unreadable-file, input/missing-part, input/bad-index, input/no-triangles, limit/triangles
 */
export async function readGltf(source: MeshSource): Promise<MeshFile> {
  const { name, limits } = source;
  const pictures = new PictureList(source.companion);
  const document = await readDocument(source);
  const materials = new GltfMaterials(document, pictures);
  const objects: MeshFileObject[] = [];
  let triangles = 0;
  for (const node of document.getRoot().listNodes()) {
    const object = readNode(node, name, materials);
    if (!object) continue;
    triangles += object.mesh.indices.length / 3;
    checkTriangles(name, triangles, limits);
    objects.push(object);
    checkObjects(name, objects.length, limits);
  }
  return {
    objects: withPicturesUsed(requireTriangles(name, objects), pictures),
    missingPictures: pictures.missing,
    unit: 'm',
  };
}

/** The library's name for the buffer within a GLB. */
const OWN_BUFFER = '@glb.bin';

/**
 * The two chunks of a GLB, whose pictures may lie beside it: header, JSON, binary (glTF 2.0, section 4.4).
 * @throws RangeError, SyntaxError for one that is cut off
 */
function chunksOf(bytes: Uint8Array<ArrayBuffer>): JsonAndResources {
  const view = viewOf(bytes);
  const length = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as JsonAndResources['json'];
  const at = 20 + length;
  if (at + 8 > bytes.length) return { json, resources: {} };
  const size = view.getUint32(at, true);
  if (at + 8 + size > bytes.length) throw new RangeError('cut off');
  return { json, resources: { [OWN_BUFFER]: bytes.slice(at + 8, at + 8 + size) } };
}

type JsonAndResources = Awaited<ReturnType<WebIO['binaryToJSON']>>;

async function readDocument({ name, bytes, companion, limits }: MeshSource): Promise<Document> {
  const io = new WebIO().registerExtensions([
    ...[KHRMaterialsUnlit, KHRMeshQuantization, KHRTextureTransform],
    ...[KHRMaterialsEmissiveStrength, KHRMaterialsIOR, KHRMaterialsTransmission, KHRMaterialsVolume],
  ]);
  io.setLogger({ debug() {}, info() {}, warn() {}, error() {} });
  try {
    const isBinary = headText(bytes, 4) === 'glTF';
    if (isBinary && bytes.length >= 8) requireVersion2(name, `${viewOf(bytes).getUint32(4, true)}.0`);
    const { json, resources } = isBinary
      ? chunksOf(bytes.slice())
      : {
          json: JSON.parse(new TextDecoder().decode(bytes)) as JsonAndResources['json'],
          resources: {} as Record<string, Uint8Array<ArrayBuffer>>,
        };
    requireVersion2(name, versionIn(json));
    for (const extension of json.extensionsRequired ?? []) {
      if (ACCEPTED.test(extension)) continue;
      throw new ZographosError(
        'input/unreadable-file',
        `“${name}” needs the glTF extension ${extension}, which cannot be read here. Export it without that compression or extension.`,
      );
    }
    for (const buffer of json.buffers ?? []) {
      if (!buffer.uri || buffer.uri.startsWith('data:')) continue;
      const part = await companion(decodeURIComponent(buffer.uri));
      if (!part) {
        throw new ZographosError(
          'input/missing-part',
          `“${name}” keeps its geometry in “${buffer.uri}”, which is not there. Import both files together, or export as GLB.`,
        );
      }
      resources[buffer.uri] = part.slice();
    }
    checkGltfRanges(
      json,
      (buffer) => {
        const uri = json.buffers![buffer]!.uri;
        return uri?.startsWith('data:') ? dataBytes(uri) : resources[uri ?? OWN_BUFFER]?.byteLength;
      },
      limits,
    );
    // Geometry does not need pictures: one that is not there is only missed when materials are baked.
    for (const image of json.images ?? []) {
      if (!image.uri || image.uri.startsWith('data:')) continue;
      const picture = await companion(decodeURIComponent(image.uri));
      resources[image.uri] = picture ? picture.slice() : new Uint8Array(new ArrayBuffer(0));
    }
    return await io.readJSON({ json, resources });
  } catch (error) {
    if (error instanceof ZographosError) throw error;
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” cannot be read as glTF 2.0: it is cut off or damaged. Export it again.`,
      { cause: error },
    );
  }
}

/** @throws input/unreadable-file for glTF 1.0, whose files are quite other ones */
function requireVersion2(name: string, version: string): void {
  if (version.startsWith('2')) return;
  throw new ZographosError(
    'input/unreadable-file',
    `“${name}” is glTF ${version}; only glTF 2.0 can be read. Export it as glTF 2.0.`,
  );
}

/** What a file says of its version; files of the first often say nothing. */
const versionIn = (json: JsonAndResources['json']): string =>
  String(
    z
      .looseObject({ version: z.union([z.string(), z.number()]) })
      .catch({ version: '1.0' })
      .parse(json.asset).version,
  );

function readNode(node: Node, file: string, materials: GltfMaterials): MeshFileObject | null {
  const primitives = node.getMesh()?.listPrimitives() ?? [];
  const parts = primitives.map((primitive) => ({ primitive, indices: triangleIndices(primitive) }));
  const usable = parts.filter((part) => part.indices.length > 0 && part.primitive.getAttribute('POSITION'));
  if (usable.length === 0) return null;
  const matrix = node.getWorldMatrix();
  const vertices = usable.reduce((sum, { primitive }) => sum + primitive.getAttribute('POSITION')!.getCount(), 0);
  const uvSets = [0, 1, 2, 3, 4, 5, 6, 7].filter((set) =>
    usable.some(({ primitive }) => primitive.getAttribute(`TEXCOORD_${set}`)),
  );
  const hasColors = usable.some(({ primitive }) => primitive.getAttribute('COLOR_0'));
  const positions = new Float32Array(vertices * 3);
  const normals = new Float32Array(vertices * 3);
  const coords = uvSets.map(() => new Float32Array(vertices * 2));
  const colors = hasColors ? new Float32Array(vertices * 4).fill(1) : null;
  const indices = new GrowingInts();
  const slots = new Map<string, number>();
  const slotMaterials: Material[] = [];
  const triangleSlots = new GrowingInts();
  let missingNormals = false;
  let droppedTriangles = 0;
  let base = 0;
  for (const { primitive, indices: local } of usable) {
    const count = primitive.getAttribute('POSITION')!.getCount();
    copy(primitive, 'POSITION', 3, positions, base);
    if (!copy(primitive, 'NORMAL', 3, normals, base)) missingNormals = true;
    uvSets.forEach((set, i) => {
      if (!copy(primitive, `TEXCOORD_${set}`, 2, coords[i]!, base)) return;
      // glTF counts v from the top of the picture, the core from the bottom.
      for (let v = base; v < base + count; v++) coords[i]![v * 2 + 1] = 1 - coords[i]![v * 2 + 1]!;
    });
    if (colors) copy(primitive, 'COLOR_0', 4, colors, base);
    const material = primitive.getMaterial();
    const slotName = material?.getName() || 'default';
    if (!slots.has(slotName)) {
      slots.set(slotName, slots.size);
      slotMaterials.push(material ? materials.read(material) : PLAIN_MATERIAL);
    }
    const slot = slots.get(slotName)!;
    const beyond = local.find((corner) => corner >= count);
    if (beyond !== undefined) {
      throw new ZographosError(
        'input/bad-index',
        `“${file}”: “${node.getName()}” uses vertex ${beyond}, but has only ${count}. It is damaged; export it again.`,
      );
    }
    for (let i = 0; i < local.length; i += 3) {
      const [a, b, c] = [base + local[i]!, base + local[i + 1]!, base + local[i + 2]!];
      const isSound =
        isFiniteVertex(positions, coords, a) &&
        isFiniteVertex(positions, coords, b) &&
        isFiniteVertex(positions, coords, c);
      if (isSound) {
        indices.push3(a, b, c);
        triangleSlots.push(slot);
      } else droppedTriangles++;
    }
    base += count;
  }
  transform(positions, normals, matrix);
  if (determinant(matrix) < 0) {
    const corners = indices.view();
    for (let i = 0; i < corners.length; i += 3) [corners[i + 1], corners[i + 2]] = [corners[i + 2]!, corners[i + 1]!];
  }
  // Names of UV sets, as we write them: glTF itself only counts them.
  const names = z.array(z.string()).catch([]).parse(node.getMesh()!.getExtras()['uvSets']);
  const mesh: Mesh = {
    name: node.getName() || node.getMesh()!.getName() || file.replace(/\.[^.]*$/, ''),
    positions,
    normals,
    uvSets: uvSets.map((set, i) => ({ name: names[set] ?? `UV ${set + 1}`, coords: coords[i]! })),
    colors,
    indices: new Uint32Array(indices.view()),
    slots: [...slots.keys()],
    triangleSlots: new Uint16Array(triangleSlots.view()),
    materials: slotMaterials,
  };
  return { mesh, computedNormals: completeNormals(mesh, missingNormals), droppedTriangles };
}

/** Gives objects the pictures of their file. */
function withPicturesUsed(objects: MeshFileObject[], { pictures }: PictureList): MeshFileObject[] {
  for (const { mesh } of objects) mesh.pictures = pictures;
  return objects;
}

/** The primitive as a triangle list; strips and fans are unrolled, points and lines give nothing. */
function triangleIndices(primitive: Primitive): Uint32Array {
  const count = primitive.getIndices()?.getCount() ?? primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const given = indicesOf(primitive);
  const at = (i: number): number => given?.[i] ?? i;
  const mode = primitive.getMode();
  if (mode === 4) {
    const list = new Uint32Array(count - (count % 3));
    for (let i = 0; i < list.length; i++) list[i] = at(i);
    return list;
  }
  if (mode !== 5 && mode !== 6) return new Uint32Array(0);
  const list: number[] = [];
  for (let i = 2; i < count; i++) {
    if (mode === 6) list.push(at(0), at(i - 1), at(i));
    else if (i % 2 === 0) list.push(at(i - 2), at(i - 1), at(i));
    else list.push(at(i - 1), at(i - 2), at(i));
  }
  return Uint32Array.from(list);
}

/** Indices as the file has them; null where vertices are in order. */
function indicesOf(primitive: Primitive): Uint8Array | Uint16Array | Uint32Array | null {
  const array: unknown = primitive.getIndices()?.getArray();
  const isKnown = array instanceof Uint8Array || array instanceof Uint16Array || array instanceof Uint32Array;
  return isKnown ? array : null;
}

function copy(primitive: Primitive, semantic: string, width: number, target: Float32Array, base: number): boolean {
  const accessor = primitive.getAttribute(semantic);
  if (!accessor) return false;
  const array: unknown = accessor.getArray();
  if (array instanceof Float32Array && accessor.getElementSize() === width) {
    target.set(array, base * width);
    return true;
  }
  const element: number[] = [];
  for (let i = 0, count = accessor.getCount(); i < count; i++) {
    accessor.getElement(i, element);
    for (let k = 0; k < Math.min(width, element.length); k++) target[(base + i) * width + k] = element[k]!;
  }
  return true;
}

function isFiniteVertex(positions: Float32Array, coords: Float32Array[], vertex: number): boolean {
  for (let k = 0; k < 3; k++) if (!Number.isFinite(positions[vertex * 3 + k])) return false;
  for (const set of coords) if (!Number.isFinite(set[vertex * 2]! + set[vertex * 2 + 1]!)) return false;
  return true;
}

function determinant(m: readonly number[]): number {
  return (
    m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
    m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) +
    m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!)
  );
}

/** Positions by the matrix, normals by its cofactors (the inverse transpose up to a factor). */
function transform(positions: Float32Array, normals: Float32Array, m: readonly number[]): void {
  const isIdentity = m.every((value, i) => value === (i % 5 === 0 ? 1 : 0));
  if (isIdentity) return;
  const sign = Math.sign(determinant(m)) || 1;
  const cofactor = (a: number, b: number, c: number, d: number): number => sign * (m[a]! * m[d]! - m[b]! * m[c]!);
  const n = [
    [cofactor(5, 6, 9, 10), cofactor(9, 10, 1, 2), cofactor(1, 2, 5, 6)],
    [cofactor(6, 4, 10, 8), cofactor(10, 8, 2, 0), cofactor(2, 0, 6, 4)],
    [cofactor(4, 5, 8, 9), cofactor(8, 9, 0, 1), cofactor(0, 1, 4, 5)],
  ];
  for (let v = 0; v < positions.length; v += 3) {
    const [x, y, z] = [positions[v]!, positions[v + 1]!, positions[v + 2]!];
    const [nx, ny, nz] = [normals[v]!, normals[v + 1]!, normals[v + 2]!];
    for (let k = 0; k < 3; k++) {
      positions[v + k] = m[k]! * x + m[4 + k]! * y + m[8 + k]! * z + m[12 + k]!;
      normals[v + k] = n[k]![0]! * nx + n[k]![1]! * ny + n[k]![2]! * nz;
    }
  }
}
