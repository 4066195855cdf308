import type { Image } from '@zographos/core/image';
import { inspectMesh } from '@zographos/core/inspection';
import { unfoldArchive } from '@zographos/formats/archive';
import { imageFormatOf, inspectImageFile, readImageFile, type FormatLimits } from '@zographos/formats/images';
import { readMeshFile, type MeshFile } from '@zographos/formats/meshes';
import { deliveryProfile, parseTicketFile, parseWith } from '@zographos/operations';
import { openDelivery } from '../../../apps/studio/src/rooms/receive/openDelivery.ts';

/** Small, so that what is within them costs little: what is beyond has to be refused by the same checks as ever. */
const LIMITS: FormatLimits = { bytes: 1e6, pixels: 1e6, triangles: 1e5, objects: 100, seconds: 5 };

/**
 * Reads a file by the reader that its name asks for, and looks whether what came is sound.
 * @param beside what a mesh may refer to
 * @throws whatever the reader throws; Error for a result that cannot be
 */
export async function readFile(name: string, bytes: Uint8Array, beside: Record<string, Uint8Array>): Promise<void> {
  if (name === 'ticket.json') void parseTicketFile(name, new TextDecoder().decode(bytes));
  else if (name === 'profile.json') parseWith(deliveryProfile, jsonIn(bytes), 'profile');
  else if (name === 'delivery.zip') await openDelivery(bytes);
  else if (name.endsWith('.zip')) {
    for (const file of unfoldArchive(name, bytes, 1e7).files) {
      if (file.name.length > 65_535) throw new Error('a name longer than a ZIP can hold');
    }
  } else if (name.endsWith('.mtl')) {
    const companion = { ...beside, 'brass.mtl': bytes };
    requireSoundMeshes(await meshes('plate.obj', PLATE, companion));
  } else if (imageFormatOf(name)) {
    const { inspection } = await inspectImageFile(name, bytes, LIMITS);
    const image = await readImageFile(name, bytes, LIMITS);
    requireSoundImage(image);
    if (inspection.width !== image.width) throw new Error('a width that is not the one that was told');
  } else requireSoundMeshes(await meshes(name, bytes, beside));
}

/** What is no JSON is turned down before a profile is looked for in it. */
function jsonIn(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return null;
  }
}

const PLATE = new TextEncoder().encode('mtllib brass.mtl\nusemtl brass\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');

const meshes = (name: string, bytes: Uint8Array, beside: Record<string, Uint8Array>): Promise<MeshFile> =>
  readMeshFile({ name, bytes, limits: LIMITS, companion: (part) => Promise.resolve(beside[part] ?? null) });

function requireSoundMeshes({ objects }: MeshFile): void {
  if (objects.length === 0) throw new Error('no objects, and no error');
  for (const { mesh, computedNormals, droppedTriangles } of objects) {
    const vertices = mesh.positions.length / 3;
    if (!Number.isInteger(vertices)) throw new Error(`${vertices} vertices`);
    if (mesh.indices.length % 3 !== 0 || mesh.indices.length === 0) throw new Error(`${mesh.indices.length} corners`);
    if (mesh.indices.some((index) => index >= vertices)) throw new Error('a corner beyond the vertices');
    if (!mesh.positions.every(Number.isFinite)) throw new Error('a position that is no number');
    if (!mesh.normals.every(Number.isFinite)) throw new Error('a normal that is no number');
    if (mesh.normals.length !== mesh.positions.length) throw new Error('normals that are not as many as positions');
    if (mesh.uvSets.some(({ coords }) => coords.length !== vertices * 2)) throw new Error('UVs of other vertices');
    if (mesh.triangleSlots.length !== mesh.indices.length / 3) throw new Error('slots of other triangles');
    if (mesh.triangleSlots.some((slot) => slot >= mesh.slots.length)) throw new Error('a slot that is none');
    inspectMesh(mesh, { computedNormals, droppedTriangles, missingPictures: [] });
  }
}

function requireSoundImage({ width, height, channels, data }: Image): void {
  if (!(width >= 1 && height >= 1) || data.length !== width * height * channels) {
    throw new Error(`${width} × ${height} × ${channels}, but ${data.length} values`);
  }
  if (width * height > LIMITS.pixels) throw new Error('more pixels than there may be');
}
