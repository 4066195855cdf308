// Records of what lights and is lit, as kernel/light reads them (kernel/light/scene.ts has where their parts lie).

import { triangleFace } from '../mesh/triangleFace.ts';
import type { Scene } from '../trace/scene.ts';
import type { Environment } from './environment.ts';
import { radianceOf, type Emitters, type LightScene } from './lightScene.ts';
import { cutOff, hasHoles, holesVary, plainValues, sendsVarying } from './surfaceReader.ts';

const FLAG = { varies: 1, sendsVarying: 2, sends: 4, oneSided: 8, absorbs: 16, hasHoles: 32, holesVary: 64 } as const;
const [MATERIAL, SUN, POINT, EMITTER] = [96, 64, 96, 64];
const DEGREE = Math.PI / 180;
/** Discs in the sky that are smaller have no size. */
const LEAST_ANGLE = 1e-3;
/**
 * What each material is made of and sends.
 * @param told 1 for each whose places are told from outside; see `setTexture` for those whose pictures the kernel looks up
 */
export function materialRecords(light: LightScene, told: Uint8Array): DataView {
  const { materials } = light.materials;
  const records = new DataView(new ArrayBuffer(Math.max(1, materials.length) * MATERIAL));
  materials.forEach((material, m) => {
    const at = m * MATERIAL;
    const floats = (offset: number, values: readonly number[]): void =>
      values.forEach((value, k) => records.setFloat32(at + offset + k * 4, value, true));
    const { base, metallic, roughness, specular, transmission, ior } = plainValues(material);
    const radiance = radianceOf(material);
    const { glass } = material;
    const absorbed = glass?.attenuation ?? null;
    floats(0, base);
    floats(16, radiance);
    // Logarithm of the transmittance of a mesh unit.
    if (absorbed)
      floats(
        32,
        [...absorbed.color].map((left) => Math.log(Math.max(1e-9, left)) / absorbed.distance),
      );
    floats(48, [metallic, roughness, specular, transmission, ior, light.emitters?.density[m] ?? 0]);
    const flags =
      (told[m] === 1 ? FLAG.varies : 0) |
      (sendsVarying(material) ? FLAG.sendsVarying : 0) |
      (sendsVarying(material) || radiance.some((value) => value > 0) ? FLAG.sends : 0) |
      (light.oneSided[m] === 1 ? FLAG.oneSided : 0) |
      (absorbed ? FLAG.absorbs : 0) |
      (hasHoles(material) ? FLAG.hasHoles : 0) |
      (holesVary(material) ? FLAG.holesVary : 0);
    records.setUint32(at + 72, flags, true);
    records.setUint32(at + 76, light.groupOf[m]!, true);
    // Where it varies it is told with what is sent.
    records.setFloat32(at + 80, holesVary(material) ? 1 : cutOff(material, material.opacity), true);
  });
  return records;
}

/** Names the record of the pictures of a material. */
export const setTexture = (records: DataView, material: number, address: number): void =>
  records.setUint32(material * MATERIAL + 84, address, true);

/** Place and u, normal and v of each vertex. @param uvSet that u and v are of; null for none */
export function vertexRecords(
  { scene: { positions, normals }, materials }: LightScene,
  uvSet: number | null,
): Float32Array {
  const count = positions.length / 3;
  const records = new Float32Array(count * 8);
  const uvs = uvSet === null ? null : materials.uvSets[uvSet]!;
  for (let v = 0; v < count; v++) {
    for (let k = 0; k < 3; k++) {
      records[v * 8 + k] = positions[v * 3 + k]!;
      records[v * 8 + 4 + k] = normals[v * 3 + k]!;
    }
    if (!uvs) continue;
    records[v * 8 + 3] = uvs[v * 2]!;
    records[v * 8 + 7] = uvs[v * 2 + 1]!;
  }
  return records;
}

/** Where the vertices and the material of each triangle lie, from the first on. */
export function cornerRecords({ scene: { indices }, materials: { ofTriangle } }: LightScene): Uint32Array {
  const count = indices.length / 3;
  const records = new Uint32Array(count * 4);
  for (let t = 0; t < count; t++) {
    for (let corner = 0; corner < 3; corner++) records[t * 4 + corner] = indices[t * 3 + corner]! * 32;
    records[t * 4 + 3] = ofTriangle[t]! * MATERIAL;
  }
  return records;
}

/** Corner, edges, unit normal and number of each emissive triangle. */
export function emitterRecords({ positions, indices }: Scene, { triangles }: Emitters): Float32Array {
  const records = new Float32Array((triangles.length * EMITTER) / 4);
  const numbers = new Uint32Array(records.buffer);
  const face = new Float64Array(9);
  triangles.forEach((triangle, i) => {
    const at = (i * EMITTER) / 4;
    triangleFace({ positions, indices }, triangle, face);
    const length = Math.sqrt(face[6]! ** 2 + face[7]! ** 2 + face[8]! ** 2);
    for (let k = 0; k < 3; k++) {
      records[at + k] = positions[indices[triangle * 3]! * 3 + k]!;
      records[at + 9 + k] = face[6 + k]! / length;
    }
    records.set(face.subarray(0, 6), at + 3);
    numbers[at + 12] = triangle;
  });
  return records;
}

/** Radiance of each texel of an environment, and the probability density by solid angle with which it is sampled. */
export function skyTexels({ width, height, radiance, rows, columns, edges }: Environment): Float32Array {
  const texels = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    const row = ((rows[y + 1]! - rows[y]!) * width) / (2 * Math.PI * (edges[y]! - edges[y + 1]!));
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      for (let c = 0; c < 3; c++) texels[at * 4 + c] = radiance[at * 3 + c]!;
      texels[at * 4 + 3] = row * (columns[y * (width + 1) + x + 1]! - columns[y * (width + 1) + x]!);
    }
  }
  return texels;
}

/** Towards, cosine of half its angle, probability density and radiance of each sun. */
export function sunRecords({ suns }: LightScene): Uint8Array {
  const records = new DataView(new ArrayBuffer(suns.length * SUN));
  suns.forEach(({ towards, halfAngle, irradiance, group }, i) => {
    const angle = Math.min(90, halfAngle) * DEGREE;
    const hasSize = angle >= LEAST_ANGLE;
    // A disc of radiance L seen at right angles gives π L sin².
    const across = hasSize ? Math.PI * Math.sin(angle) ** 2 : 1;
    const pdf = hasSize ? 1 / (2 * Math.PI * (1 - Math.cos(angle))) : 0;
    [...towards, hasSize ? Math.cos(angle) : 1, pdf].forEach((value, k) =>
      records.setFloat64(i * SUN + k * 8, value, true),
    );
    records.setUint32(i * SUN + 40, group, true);
    irradiance.forEach((value, c) => records.setFloat32(i * SUN + 48 + c * 4, value / across, true));
  });
  return new Uint8Array(records.buffer);
}

/** Place, axis, cosines of its cone and intensity of each lamp without size. */
export function pointRecords({ points }: LightScene): Uint8Array {
  const records = new DataView(new ArrayBuffer(points.length * POINT));
  points.forEach(({ position, intensity, cone, group }, i) => {
    const at = i * POINT;
    const cosines = cone ? [Math.cos(cone.inner * DEGREE), Math.cos(cone.outer * DEGREE)] : [0, 0];
    [...position, ...(cone?.axis ?? [0, 0, 0]), ...cosines].forEach((value, k) =>
      records.setFloat64(at + k * 8, value, true),
    );
    intensity.forEach((value, c) => records.setFloat32(at + 64 + c * 4, value, true));
    records.setUint32(at + 80, cone ? 1 : 0, true);
    records.setUint32(at + 84, group, true);
  });
  return new Uint8Array(records.buffer);
}
