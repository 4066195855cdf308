import { ZographosError } from '../errors.ts';
import type { Kernel } from '../kernel/kernel.ts';
import { batchAt, takeSpare, type KernelTree } from '../trace/index.ts';
import { triangleFace } from '../mesh/triangleFace.ts';
import type { HitBatch, RayBatch } from '../trace/rays.ts';
import type { Scene } from '../trace/scene.ts';
import {
  packableOf,
  packLevel,
  PACKED_TEXEL_BYTES,
  TEXTURE_BYTES,
  textureRecord,
  type Packable,
} from './packedPictures.ts';
import type { Environment } from './environment.ts';
import { radianceOf, sharesOf, type Emitters, type LightScene } from './lightScene.ts';
import { coloredMaterials, cutOff, hasHoles, holesVary, plainValues, sendsVarying, varies } from './surfaceReader.ts';

/** From where surfaces are seen. */
export type SeenFrom = { from: 'normal' } | { from: 'eye'; place: readonly [number, number, number] };

/** What paths go by. */
export interface PathSettings {
  seenFrom: SeenFrom;
  /** Which side of the receiver is looked at; of both, the one that faces the eye. */
  faces: 'front' | 'back' | 'both';
  /** Surfaces between the first and a light, at most; 0 for direct light alone. */
  bounces: number;
  /** How many there will be for each texel: the more there are, the finer each one sees what lies behind the first place. */
  samples: number;
}

/** A scene's lights and materials in kernel memory, and a room for each thread. */
export interface LaidLight {
  /** The record that the kernel finds everything by (kernel/light/scene.ts). */
  scene: number;
  /** Where each thread's paths lie, and what it counts. */
  rooms: number[];
  counted: number[];
  /** 1 for each material whose pictures the kernel looks up. */
  packed: Uint8Array;
}

/** Paths that are followed together: as kernel/light/paths.ts has it. */
export const PATHS = 4096;
/** Bytes of each list of a room, in its order. */
const LISTS = {
  throughput: 64,
  pending: 64,
  surfaces: 48,
  sent: 16,
  weights: 16,
  shadowWeights: 16,
  backs: 24,
  firsts: 24,
  pdfs: 8,
  triangles: 4,
  slots: 4,
  samples: 4,
  seeds: 4,
  within: 4,
  rayPaths: 4,
  shadowPaths: 4,
  shadowGroups: 4,
  shadowTriangles: 4,
  shadowLeft: 4,
  opacities: 4,
  behindOf: 4,
  widths: 4,
} as const;
const BATCH_BYTES = (12 + 12 + 4 + 4 + 4 + 8) * PATHS + 2 * 16;
const ROOM_BYTES = Object.values(LISTS).reduce((sum: number, bytes) => sum + bytes * PATHS, 0) + 3 * BATCH_BYTES + 64;

/** Bytes that threads need beside the scene to follow paths, and to count for a block. */
export const pathBytes = (threads: number, countedDoubles: number): number =>
  threads * (ROOM_BYTES + countedDoubles * 8 + 128);

/** Rays, and what they have met. */
export interface Batch {
  rays: RayBatch;
  hits: HitBatch;
}

/** The lists of a room that are read and written beside the kernel. */
export interface PathRoom {
  surfaces: Float32Array;
  sent: Float32Array;
  pending: Float32Array;
  weights: Float64Array;
  triangles: Int32Array;
  slots: Int32Array;
  samples: Int32Array;
  seeds: Int32Array;
  rayPaths: Int32Array;
  opacities: Float32Array;
  behindOf: Int32Array;
  /** Width of what each path sees of the place it is at, in mesh units: what pictures are filtered over. */
  widths: Float32Array;
  shadowPaths: Int32Array;
  shadowTriangles: Int32Array;
  shadowWeights: Float64Array;
  /** Rays that extend paths, shadow rays, and what goes on of either behind holes. */
  next: Batch;
  shadows: Batch;
  behind: Batch;
}

/** @param room its address */
export function pathRoom(buffer: ArrayBufferLike, room: number): PathRoom {
  let free = room;
  const at = {} as Record<keyof typeof LISTS, number>;
  for (const name of Object.keys(LISTS) as (keyof typeof LISTS)[]) {
    at[name] = free;
    free += LISTS[name] * PATHS;
  }
  const whole = (name: keyof typeof LISTS): Int32Array => new Int32Array(buffer, at[name], PATHS);
  const floats = (name: keyof typeof LISTS): Float32Array =>
    new Float32Array(buffer, at[name], (PATHS * LISTS[name]) / 4);
  return {
    ...{
      surfaces: floats('surfaces'),
      sent: floats('sent'),
      pending: floats('pending'),
      opacities: floats('opacities'),
    },
    ...{ behindOf: whole('behindOf'), widths: floats('widths') },
    weights: new Float64Array(buffer, at.weights, PATHS * 2),
    shadowWeights: new Float64Array(buffer, at.shadowWeights, PATHS * 2),
    ...{ triangles: whole('triangles'), slots: whole('slots'), samples: whole('samples'), seeds: whole('seeds') },
    ...{ rayPaths: whole('rayPaths'), shadowPaths: whole('shadowPaths'), shadowTriangles: whole('shadowTriangles') },
    next: batchAt(buffer, free, PATHS),
    shadows: batchAt(buffer, free + BATCH_BYTES, PATHS),
    behind: batchAt(buffer, free + 2 * BATCH_BYTES, PATHS),
  };
}

const FLAG = { varies: 1, sendsVarying: 2, sends: 4, oneSided: 8, absorbs: 16, hasHoles: 32, holesVary: 64 } as const;
const [MATERIAL, SUN, POINT, EMITTER] = [96, 64, 96, 64];
const DEGREE = Math.PI / 180;
/** Discs in the sky that are smaller have no size. */
const LEAST_ANGLE = 1e-3;
/** Offset of ray origins along the geometric normal, as a share of the scene's diagonal. */
const OFFSET = 4e-6;
/** Bytes of the table of directional albedos: two floats for 32 roughnesses and 32 cosines. */
const ALBEDO_BYTES = 32 * 32 * 8;

/** What is laid into memory one after the other. */
class Parts {
  bytes = 0;
  private readonly parts: { at: number; values: ArrayBufferView }[] = [];

  /** @returns where it lies from the first on */
  add(values: ArrayBufferView): number {
    this.parts.push({ at: this.bytes, values });
    return this.skip(values.byteLength);
  }

  /** Leaves room, with 16 bytes to spare behind it. */
  skip(bytes: number): number {
    const at = this.bytes;
    this.bytes = Math.ceil((at + bytes + 16) / 64) * 64;
    return at;
  }

  layInto(buffer: ArrayBufferLike, from: number): void {
    for (const { at, values } of this.parts) {
      const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
      new Uint8Array(buffer, from + at, values.byteLength).set(bytes);
    }
  }
}

let albedos: Uint8Array | null = null;

/**
 * Lays what lights and is lit into the memory of its tree; it takes the place of what a run has laid there before. Pictures
 * are laid beside it, so that the kernel can look them up, where there is room for them.
 * @param countedDoubles what a thread counts at once @param stride doubles of it for each texel
 * @throws limit/memory where the kernel cannot reach so far
 */
export function layLight(
  tree: KernelTree,
  kernel: Kernel,
  light: LightScene,
  settings: PathSettings,
  counts: { countedDoubles: number; stride: number },
): LaidLight {
  const laid =
    layParts(tree, kernel, light, settings, counts, packablesOf(light)) ??
    layParts(
      tree,
      kernel,
      light,
      settings,
      counts,
      light.materials.materials.map(() => null),
    );
  if (laid) return laid;
  throw new ZographosError(
    'limit/memory',
    'The scene is too large to be lit: with its lights it takes more than the 4 GiB that rays are cast within. Leave out what is not seen, or choose a smaller environment.',
  );
}

/** What the kernel looks up; all on one UV set, which lies beside the vertices. */
function packablesOf(light: LightScene): (Packable | null)[] {
  const colored = coloredMaterials(light);
  const found = light.materials.materials.map((material, m) => packableOf(material, light.materials, colored[m] === 1));
  const uvSet = uvSetOf(found);
  return found.map((packable) => (packable?.use.uvSet === uvSet ? packable : null));
}

const uvSetOf = (packables: readonly (Packable | null)[]): number | null =>
  packables.find((packable) => packable !== null)?.use.uvSet ?? null;

/** @returns null where the kernel cannot reach so far */
function layParts(
  tree: KernelTree,
  { exports, memory }: Kernel,
  light: LightScene,
  settings: PathSettings,
  { countedDoubles, stride }: { countedDoubles: number; stride: number },
  packables: readonly (Packable | null)[],
): LaidLight | null {
  const parts = new Parts();
  const record = new ArrayBuffer(192);
  const scene = parts.add(new Uint8Array(record));
  const records = materialRecords(light, packables);
  const materials = parts.add(new Uint8Array(records.buffer));
  const vertices = parts.add(vertexRecords(light, uvSetOf(packables)));
  const corners = parts.add(cornerRecords(light));
  const suns = parts.add(sunRecords(light));
  const points = parts.add(pointRecords(light));
  const shares = sharesOf(light);
  const sharesAt = parts.add(shares);
  const { emitters, environment } = light;
  const found = emitters && [
    parts.add(emitterRecords(light.scene, emitters)),
    parts.add(emitters.sums),
    emitters.triangles.length,
    parts.add(guideOf(emitters.sums)),
  ];
  const sky = environment && [
    parts.add(skyTexels(environment)),
    environment.width,
    environment.height,
    parts.add(environment.rows),
    parts.add(environment.columns),
    parts.add(environment.rowGuide),
    parts.add(environment.columnGuide),
    parts.add(environment.edges),
    parts.add(environment.axes),
  ];
  const albedoTable = parts.skip(ALBEDO_BYTES);
  const threads = tree.rooms.length;
  const rooms = Array.from({ length: threads }, () => parts.skip(ROOM_BYTES));
  const counted = Array.from({ length: threads }, () => parts.skip(countedDoubles * 8));
  const textures = new Textures(parts, light, packables);
  const from = takeSpare(tree, parts.bytes);
  if (from === null) return null;
  const here = (at: number): number => from + at;
  const whole = new Uint32Array(record);
  whole.set([here(vertices), here(corners)]);
  whole[4] = here(materials);
  whole.set([here(suns), light.suns.length, here(points), light.points.length, here(sharesAt), shares.length - 1], 5);
  if (found) {
    whole.set([here(found[0]!), here(found[1]!), found[2]!], 11);
    whole[30] = here(found[3]!);
  }
  if (sky) {
    whole.set([here(sky[0]!), sky[1]!, sky[2]!], 14);
    whole.set(
      sky.slice(3).map((at) => here(at)),
      17,
    );
  }
  whole[23] = light.environmentGroup;
  const { seenFrom, faces, bounces, samples } = settings;
  const eye = seenFrom.from === 'eye' ? seenFrom.place : null;
  whole.set([here(albedoTable), bounces, stride, eye ? 1 : 0, ['front', 'back', 'both'].indexOf(faces)], 24);
  const numbers = [light.extent * OFFSET, light.extent * 4, ...(eye ?? [0, 0, 0]), 1 / Math.sqrt(samples)];
  new Float64Array(record, 128).set(numbers);
  whole[29] = textures.tangents === null ? 0 : here(textures.tangents);
  packables.forEach((packable, m) => {
    if (packable) records.setUint32(m * MATERIAL + 84, here(textures.records.get(packable.key)!), true);
  });
  const { buffer } = memory;
  parts.layInto(buffer, from);
  textures.layInto(buffer, from);
  const table = new Uint8Array(buffer, here(albedoTable), ALBEDO_BYTES);
  // The same for all scenes.
  if (albedos) table.set(albedos);
  else {
    exports.measureAlbedos(here(albedoTable));
    albedos = table.slice();
  }
  const packed = Uint8Array.from(packables, (packable) => (packable ? 1 : 0));
  return { scene: here(scene), rooms: rooms.map(here), counted: counted.map(here), packed };
}

/** Pictures that the kernel looks up; levels are packed only once there is room for them. */
class Textures {
  /** Where the record of each lies, by its key; and tangents, where any is bent. */
  readonly records = new Map<string, number>();
  readonly tangents: number | null = null;
  private readonly light: LightScene;
  private readonly laid: { packable: Packable; record: number; levels: number[] }[] = [];

  constructor(parts: Parts, light: LightScene, packables: readonly (Packable | null)[]) {
    this.light = light;
    const { materials } = light;
    for (const packable of packables) {
      if (!packable || this.records.has(packable.key)) continue;
      const record = parts.skip(TEXTURE_BYTES);
      this.records.set(packable.key, record);
      const levels = packable.levels.map(({ width, height }) => parts.skip(width * height * PACKED_TEXEL_BYTES));
      this.laid.push({ packable, record, levels });
      if (packable.uses.normal) this.tangents ??= parts.add(materials.tangents!);
    }
  }

  layInto(buffer: ArrayBufferLike, from: number): void {
    for (const { packable, record, levels } of this.laid) {
      const addresses = levels.map((at) => from + at);
      const told = textureRecord(packable, this.light.materials, addresses);
      new Uint8Array(buffer, from + record, told.byteLength).set(told);
      levels.forEach((at, level) => {
        const texels = packLevel(packable, this.light.materials, level);
        new Uint16Array(buffer, from + at, texels.length).set(texels);
      });
    }
  }
}

function materialRecords(light: LightScene, packables: readonly (Packable | null)[]): DataView {
  const { materials } = light.materials;
  const colored = coloredMaterials(light);
  const records = new DataView(new ArrayBuffer(Math.max(1, materials.length) * MATERIAL));
  materials.forEach((material, m) => {
    const at = m * MATERIAL;
    const floats = (offset: number, values: readonly number[]): void =>
      values.forEach((value, k) => records.setFloat32(at + offset + k * 4, value, true));
    const { base, metallic, roughness, specular, transmission, ior } = plainValues(material);
    const isTold = varies(material, colored[m] === 1) && !packables[m];
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
      (isTold ? FLAG.varies : 0) |
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

/** Place and u, normal and v of each vertex. */
function vertexRecords({ scene: { positions, normals }, materials }: LightScene, uvSet: number | null): Float32Array {
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
function cornerRecords({ scene: { indices }, materials: { ofTriangle } }: LightScene): Uint32Array {
  const count = indices.length / 3;
  const records = new Uint32Array(count * 4);
  for (let t = 0; t < count; t++) {
    for (let corner = 0; corner < 3; corner++) records[t * 4 + corner] = indices[t * 3 + corner]! * 32;
    records[t * 4 + 3] = ofTriangle[t]! * MATERIAL;
  }
  return records;
}

/** Corner, edges, unit normal and number of each emissive triangle. */
function emitterRecords({ positions, indices }: Scene, { triangles }: Emitters): Float32Array {
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

/** Where a search in cumulative sums begins, for each of equal parts of 0 to 1. */
function guideOf(sums: Float64Array): Uint32Array {
  const count = sums.length - 1;
  const guide = new Uint32Array(count);
  for (let k = 0, entry = 0; k < count; k++) {
    while (entry < count - 1 && sums[entry + 1]! <= k / count) entry++;
    guide[k] = entry;
  }
  return guide;
}

/** Radiance of each texel of an environment, and the probability density by solid angle with which it is sampled. */
function skyTexels({ width, height, radiance, rows, columns, edges }: Environment): Float32Array {
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

function sunRecords({ suns }: LightScene): Uint8Array {
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

function pointRecords({ points }: LightScene): Uint8Array {
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
