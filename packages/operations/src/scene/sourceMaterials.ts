import { mikkTangents, pictureLevels, type SourceMaterials } from '@zographos/core/bake';
import { srgbToLinear } from '@zographos/core/color';
import {
  GLTF_NORMAL,
  inNormalSpace,
  sharedImage,
  toLight,
  type Image,
  type MapConvention,
} from '@zographos/core/image';
import { PLAIN_MATERIAL, withPictures, type Material, type MaterialPicture, type Mesh } from '@zographos/core/mesh';
import { sharedFloat32, sharedUint16, sharedUint8 } from '@zographos/core/shared-arrays';
import { limitsFrom, readImageFile } from '@zographos/formats/images';

/**
 * The materials of some sources with their pictures read, in memory that threads share.
 * @param withNormals whether normal pictures will be looked up
 * @throws input/unreadable-file, limit/pixels
 */
export async function sourceMaterials(sources: readonly Mesh[], withNormals: boolean): Promise<SourceMaterials> {
  const files: MaterialPicture[] = [];
  const materials: Material[] = [];
  const triangles = sources.reduce((sum, mesh) => sum + mesh.indices.length / 3, 0);
  const ofTriangle = sharedUint16(triangles);
  let triangle = 0;
  for (const mesh of sources) {
    const numbers = (mesh.pictures ?? []).map((picture) => {
      const known = files.findIndex((file) =>
        picture.image ? file.image === picture.image : !file.image && sameBytes(file.bytes, picture.bytes),
      );
      return known >= 0 ? known : files.push(picture) - 1;
    });
    const first = materials.length;
    const own = mesh.slots.map((_, slot) => mesh.materials?.[slot] ?? PLAIN_MATERIAL);
    materials.push(...own.map((material) => withPictures(material, (picture) => numbers[picture]!)));
    for (let t = 0; t < mesh.triangleSlots.length; t++) ofTriangle[triangle++] = first + mesh.triangleSlots[t]!;
  }
  return {
    materials,
    ofTriangle,
    pictures: await readPictures(files, materials),
    uvSets: uvSetsOf(sources),
    colors: colorsOf(sources),
    tangents: withNormals ? tangentsOf(sources) : null,
  };
}

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean => Buffer.compare(a, b) === 0;

async function readPictures(files: MaterialPicture[], materials: Material[]): Promise<Image[][]> {
  const limits = limitsFrom(process.env);
  const pictures: Image[][] = [];
  for (const [number, { name, bytes, image: held, isData, convention }] of files.entries()) {
    const used = new Set(
      materials.flatMap(({ pictures: uses, layers = {} }) => [
        ...Object.entries(uses)
          .filter(([, use]) => use.picture === number)
          .map(([channel]) => channel),
        ...Object.entries(layers)
          .filter(([, list]) => list.some(({ use }) => use.picture === number))
          .map(([channel]) => channel),
      ]),
    );
    // Only what no material uses is left unread: it may not even be a picture.
    if (used.size === 0) {
      pictures.push([{ width: 1, height: 1, channels: 1, data: new Float32Array(1) }]);
      continue;
    }
    const image = held ?? (await readImageFile(name, bytes, limits));
    if (!held && !isData && (used.has('basecolor') || used.has('emission'))) toLight(image);
    pictures.push(
      pictureLevels(used.has('normal') ? withYUp(image, name, convention ?? image.convention) : image).map(sharedImage),
    );
  }
  return pictures;
}

/** Normals as the bake reads them: x, y and z in red, green and blue, Y up; in whichever space they are. */
function withYUp(image: Image, name: string, convention: MapConvention | undefined): Image {
  const given = convention?.of === 'direction' ? convention : GLTF_NORMAL;
  const said: Image = { ...image, convention: { of: 'direction', ...given } };
  return inNormalSpace(said, { ...GLTF_NORMAL, space: given.space }, name);
}

/** The UV sets of all sources end to end; a mesh that lacks one has its first there, or zeros. */
function uvSetsOf(sources: readonly Mesh[]): Float32Array[] {
  const count = Math.max(1, ...sources.map((mesh) => mesh.uvSets.length));
  const vertices = sources.reduce((sum, mesh) => sum + mesh.positions.length / 3, 0);
  return Array.from({ length: count }, (_, set) => {
    const all = sharedFloat32(vertices * 2);
    let at = 0;
    for (const mesh of sources) {
      const coords = (mesh.uvSets[set] ?? mesh.uvSets[0])?.coords;
      if (coords) all.set(coords, at);
      at += (mesh.positions.length / 3) * 2;
    }
    return all;
  });
}

/** Vertex colours as linear light. */
function colorsOf(sources: readonly Mesh[]): SourceMaterials['colors'] {
  if (!sources.some((mesh) => mesh.colors)) return null;
  const vertices = sources.reduce((sum, mesh) => sum + mesh.positions.length / 3, 0);
  const values = sharedFloat32(vertices * 3);
  const present = sharedUint8(vertices);
  let at = 0;
  for (const { colors, positions, materials } of sources) {
    // glTF keeps vertex colours as light already.
    const isLinear = materials?.some(({ tinted }) => tinted) ?? false;
    for (let v = 0; v < positions.length / 3; v++, at++) {
      if (!colors) continue;
      present[at] = 1;
      for (let c = 0; c < 3; c++) {
        const stored = colors[v * 4 + c]!;
        values[at * 3 + c] = isLinear ? stored : srgbToLinear(stored);
      }
    }
  }
  return { values, present };
}

function tangentsOf(sources: readonly Mesh[]): Float32Array {
  const corners = sources.reduce((sum, mesh) => sum + mesh.indices.length, 0);
  const all = sharedFloat32(corners * 4);
  let at = 0;
  for (const { positions, normals, indices, uvSets, materials } of sources) {
    const use = materials?.find(({ pictures }) => pictures.normal)?.pictures.normal;
    const uvs = use && (uvSets[use.uvSet] ?? uvSets[0])?.coords;
    if (uvs) all.set(mikkTangents({ positions, normals, uvs, indices }), at);
    at += indices.length * 4;
  }
  return all;
}
