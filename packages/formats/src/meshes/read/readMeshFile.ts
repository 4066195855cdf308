import { ZographosError } from '@zographos/core/errors';
import type { Mesh } from '@zographos/core/mesh';
import { headText } from './bytes.ts';
import { readGltf } from './gltf.ts';
import type { MeshFile, MeshSource } from '../meshFile.ts';
import { readObj } from './obj.ts';
import { readPly } from './ply.ts';
import { readStl } from './stl.ts';

export type MeshFormat = 'obj' | 'gltf' | 'glb' | 'ply' | 'stl';

/** Mesh files by the ending of their name. */
export const MESH_ENDINGS: readonly MeshFormat[] = ['obj', 'gltf', 'glb', 'ply', 'stl'];

export function meshFormatOf(name: string): MeshFormat | null {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  return MESH_ENDINGS.find((format) => format === ending) ?? null;
}

/**
 * Reads a mesh file of any known format, by its ending and after a look at its content.
 * @throws ZographosError naming the file, what is wrong with it, and the way out
 */
export async function readMeshFile(source: MeshSource): Promise<MeshFile> {
  const { name, bytes } = source;
  const format = meshFormatOf(name);
  if (!format) {
    throw new ZographosError(
      'input/wrong-file-type',
      `“${name}” is not a mesh file known here. Use OBJ, glTF, GLB, PLY or STL.`,
    );
  }
  if (bytes.length === 0) {
    throw new ZographosError('input/empty-file', `“${name}” is empty (0 bytes). Export or copy it again.`);
  }
  if (/^(\xff\xfe|\xfe\xff)/.test(headText(bytes, 2))) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” is text in UTF-16, which mesh files are not. Save it as UTF-8 and import it again.`,
    );
  }
  const actual = contentFormat(bytes);
  const fits = actual === null ? format !== 'glb' && format !== 'ply' : actual === format;
  if (!fits) {
    throw new ZographosError(
      'input/wrong-file-type',
      actual
        ? `“${name}” is named .${format}, but its content is ${actual.toUpperCase()}. Correct the file extension and import it again.`
        : `“${name}” is named .${format}, but its content is not. Export it again as ${format.toUpperCase()}.`,
    );
  }
  const file = await READERS[format](source);
  for (const { mesh } of file.objects) requireSoundMesh(name, mesh);
  return file;
}

const READERS: Record<MeshFormat, (source: MeshSource) => MeshFile | Promise<MeshFile>> = {
  obj: readObj,
  ply: readPly,
  stl: readStl,
  gltf: readGltf,
  glb: readGltf,
};

/** Slots are numbered in 16 bits. */
const MOST_SLOTS = 65_536;

/** @throws input/unreadable-file, input/not-finite for what no format can mean */
function requireSoundMesh(file: string, { name, slots, positions }: Mesh): void {
  if (slots.length > MOST_SLOTS) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${file}”: “${name}” has ${slots.length} material slots; at most ${MOST_SLOTS} can be told apart. Merge materials, or split the mesh.`,
    );
  }
  if (positions.every(Number.isFinite)) return;
  throw new ZographosError(
    'input/not-finite',
    `“${file}”: “${name}” lies beyond what numbers can say, perhaps by the matrix of its node. Apply its transform and export it again.`,
  );
}

/** What the first bytes give away; null for text formats without a signature. */
function contentFormat(bytes: Uint8Array): string | null {
  const head = headText(bytes, Math.min(bytes.length, 64));
  if (head.startsWith('glTF')) return 'glb';
  if (/^ply\r?\n/.test(head)) return 'ply';
  if (head.startsWith('\x89PNG')) return 'png';
  if (head.startsWith('\xff\xd8\xff')) return 'jpeg';
  if (head.startsWith('PK\x03\x04')) return 'zip';
  if (head.startsWith('%PDF')) return 'pdf';
  if (/^\s*\{/.test(head)) return 'gltf';
  return null;
}
