import { ZographosError } from '../errors.ts';
import type { Kernel } from '../kernel/kernel.ts';
import { takeSpare, type KernelTree } from '../trace/index.ts';
import { writeGuide } from './environment.ts';
import {
  cornerRecords,
  emitterRecords,
  materialRecords,
  pointRecords,
  setTexture,
  skyTexels,
  sunRecords,
  vertexRecords,
} from './lightRecords.ts';
import { sharesOf, type LightScene } from './lightScene.ts';
import { MemoryParts } from './memoryParts.ts';
import { packableOf, type Packable } from './packedPictures.ts';
import { PackedTextures } from './packedTextures.ts';
import { ROOM_BYTES } from './pathRoom.ts';
import { coloredMaterials, varies, type ToldMaterials } from './surfaceReader.ts';

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
export interface LaidLight extends ToldMaterials {
  /** The record that the kernel finds everything by (kernel/light/scene.ts). */
  scene: number;
  /** Where each thread's paths lie, and what it counts. */
  rooms: number[];
  counted: number[];
}

/** Offset of ray origins along the geometric normal, as a share of the scene's diagonal. */
const OFFSET = 4e-6;
/** Where the numbers of the scene's record begin, behind its addresses and counts; and its bytes. */
const NUMBERS_AT = 128;
const RECORD_BYTES = 192;
/** Bytes of the table of directional albedos: two floats for 32 roughnesses and 32 cosines. */
const ALBEDO_BYTES = 32 * 32 * 8;

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
  const colored = coloredMaterials(light);
  const lay = (packables: readonly (Packable | null)[]): LaidLight | null =>
    layParts(tree, kernel, light, settings, counts, colored, packables);
  const laid = lay(packablesOf(light, colored)) ?? lay(light.materials.materials.map(() => null));
  if (laid) return laid;
  throw new ZographosError(
    'limit/memory',
    'The scene is too large to be lit: with its lights it takes more than the 4 GiB that rays are cast within. Leave out what is not seen, or choose a smaller environment.',
  );
}

/** What the kernel looks up; all on one UV set, which lies beside the vertices. */
function packablesOf(light: LightScene, colored: Uint8Array): (Packable | null)[] {
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
  colored: Uint8Array,
  packables: readonly (Packable | null)[],
): LaidLight | null {
  const parts = new MemoryParts();
  const told = Uint8Array.from(light.materials.materials, (material, m) =>
    varies(material, colored[m] === 1) && !packables[m] ? 1 : 0,
  );
  const record = new ArrayBuffer(RECORD_BYTES);
  const scene = parts.add(new Uint8Array(record));
  const records = materialRecords(light, told);
  const materials = parts.add(records);
  const vertices = parts.add(vertexRecords(light, uvSetOf(packables)));
  const corners = parts.add(cornerRecords(light));
  const suns = parts.add(sunRecords(light));
  const points = parts.add(pointRecords(light));
  const shares = sharesOf(light);
  const sharesAt = parts.add(shares);
  const emitters = addEmitters(parts, light);
  const sky = addSky(parts, light);
  const albedoTable = parts.reserve(ALBEDO_BYTES);
  const threads = tree.rooms.length;
  const rooms = Array.from({ length: threads }, () => parts.reserve(ROOM_BYTES));
  const counted = Array.from({ length: threads }, () => parts.reserve(countedDoubles * 8));
  const textures = new PackedTextures(parts, light, packables);
  const from = takeSpare(tree, parts.bytes);
  if (from === null) return null;
  /** The address of a part; 0 where there is none. */
  const here = (at: number | null): number => (at === null ? 0 : from + at);
  const { seenFrom, faces, bounces, samples } = settings;
  const eye = seenFrom.from === 'eye' ? seenFrom.place : null;
  new Uint32Array(record).set([
    ...[here(vertices), here(corners), here(materials)],
    ...[here(suns), light.suns.length, here(points), light.points.length, here(sharesAt), shares.length - 1],
    ...[...emitters.map(here), light.emitters?.triangles.length ?? 0],
    ...[...sky.map(here), light.environment?.width ?? 0, light.environment?.height ?? 0, light.environmentGroup],
    ...[here(albedoTable), here(textures.tangents)],
    ...[bounces, stride, eye ? 1 : 0, ['front', 'back', 'both'].indexOf(faces)],
  ]);
  const numbers = [light.extent * OFFSET, light.extent * 4, ...(eye ?? [0, 0, 0]), 1 / Math.sqrt(samples)];
  new Float64Array(record, NUMBERS_AT).set(numbers);
  packables.forEach((packable, m) => {
    if (packable) setTexture(records, m, here(textures.records.get(packable.key)!));
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
  return { scene: here(scene), rooms: rooms.map(here), counted: counted.map(here), colored, told };
}

/** Records, cumulative distribution and guide of emissive triangles; null for each where there are none. */
function addEmitters(parts: MemoryParts, { scene, emitters }: LightScene): (number | null)[] {
  if (!emitters) return [null, null, null];
  const { sums, triangles } = emitters;
  const guide = new Uint32Array(triangles.length);
  writeGuide(sums, 0, triangles.length, guide, 0);
  return [emitterRecords(scene, emitters), sums, guide].map((values) => parts.add(values));
}

/** Texels and what samples them, of the environment; null for each where there is none. */
function addSky(parts: MemoryParts, { environment }: LightScene): (number | null)[] {
  if (!environment) return [null, null, null, null, null, null, null];
  const { rows, columns, rowGuide, columnGuide, edges, axes } = environment;
  return [skyTexels(environment), rows, columns, rowGuide, columnGuide, edges, axes].map((values) => parts.add(values));
}
