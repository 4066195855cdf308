import { parentPort } from 'node:worker_threads';
import { zipSync } from 'fflate';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, type Image } from '@zographos/core/image';
import { joinMeshes, uvSetFirst, type Mesh } from '@zographos/core/mesh';
import {
  guideDrawing,
  layoutFingerprint,
  layoutOf,
  splitMesh,
  type GuideOptions,
  type GuidePart,
  type Layout,
  type SplitBy,
} from '@zographos/core/uv';
import { drawSvg } from '@zographos/formats/images';
import { unpackMesh, writeMeshFiles, type MeshOutFormat, type NamedFile } from '@zographos/formats/meshes';
import { changeMesh, type CarriedKind, type MeshChange } from '@zographos/operations';
import { materialOf } from '@zographos/operations/merge';
import { layeredGuide, type GuideFormat, type GuideMap } from './layeredGuide.ts';
import { readyMesh, type ReadyMesh } from './readyMesh.ts';

/** One piece of work on meshes that is soon done. */
export type MeshRequest =
  | { what: 'change'; mesh: Uint8Array; change: MeshChange }
  | { what: 'split'; mesh: Uint8Array; name: string; how: SplitBy }
  | { what: 'join'; meshes: Uint8Array[]; name: string }
  | { what: 'file'; meshes: NamedMesh[]; name: string; format: MeshOutFormat; worn: WornMaps | null; beside: boolean }
  | {
      what: 'guide';
      meshes: NamedMesh[];
      uvSets: number[];
      options: GuideOptions;
      format: GuideFormat;
      /** Maps to lie beneath a layered guide. */
      under: GuideMap[];
    };

/** The maps that meshes are written with, in place of the materials they have. */
export interface WornMaps {
  uvSet: number;
  /** What the layout was known by when each map was baked. */
  maps: { kind: CarriedKind; image: Image; layout: string }[];
}

export interface NamedMesh {
  name: string;
  packed: Uint8Array;
}

export type MeshAnswer =
  { meshes: ReadyMesh[] } | { file: NamedFile } | { code: ZographosError['code']; message: string };

parentPort!.on('message', (request: MeshRequest) => {
  void answerTo(request).then((answer) => {
    const moved = 'meshes' in answer ? answer.meshes.map(({ packed }) => packed.buffer) : [];
    parentPort!.postMessage(answer, moved);
  });
});

async function answerTo(request: MeshRequest): Promise<MeshAnswer> {
  try {
    switch (request.what) {
      case 'change':
        return { meshes: [readyMesh(changeMesh(unpackMesh(request.mesh), request.change))] };
      case 'split':
        return { meshes: splitMesh({ ...unpackMesh(request.mesh), name: request.name }, request.how).map(readyMesh) };
      case 'join':
        return { meshes: [readyMesh(joinMeshes(request.name, request.meshes.map(unpackMesh)))] };
      case 'file':
        return { file: await fileOf(request) };
      case 'guide':
        return { file: await guideOf(request) };
    }
  } catch (error) {
    if (error instanceof ZographosError) return { code: error.code, message: error.message };
    throw error;
  }
}

const named = ({ name, packed }: NamedMesh): Mesh => ({ ...unpackMesh(packed), name });

/** One file; several that belong together come as a ZIP. */
async function fileOf(request: Extract<MeshRequest, { what: 'file' }>): Promise<NamedFile> {
  const { name, format, worn, beside } = request;
  const meshes = request.meshes.map(named);
  const files = await writeMeshFiles(name, worn ? await wearing(name, meshes, worn) : meshes, format, beside);
  if (files.length === 1) return files[0];
  const entries = Object.fromEntries(files.map(({ name: entry, bytes }) => [entry, bytes]));
  return { name: `${name}.zip`, bytes: zipSync(entries, { level: 6 }) };
}

/**
 * The same meshes with one material of the maps that belong to them, their layout first.
 * @throws input/other-layout when a map was baked for another layout than the meshes have now
 */
async function wearing(name: string, meshes: readonly Mesh[], { uvSet, maps }: WornMaps): Promise<Mesh[]> {
  const now = layoutFingerprint(together(meshes.map((mesh) => layoutOf(mesh, uvSet))));
  const strange = maps.find(({ layout }) => layout !== '' && layout !== now);
  if (strange) {
    throw new ZographosError(
      'input/other-layout',
      `The ${describeKind(strange.kind).phrase} map was baked for another layout than ${meshes.map((mesh) => `“${mesh.name}”`).join(', ')} has now: islands were moved or cut since. Bake it again, or go back to the layout it was baked for.`,
    );
  }
  const { material, pictures } = await materialOf(name, maps);
  return meshes.map((mesh): Mesh => ({
    ...uvSetFirst(mesh, uvSet),
    slots: [name],
    triangleSlots: new Uint16Array(mesh.triangleSlots.length),
    materials: [material],
    pictures,
  }));
}

/** Layouts as one, for what does not depend on where triangles lie in space. */
function together(layouts: readonly Layout[]): Pick<Layout, 'uvs' | 'indices'> {
  const uvs = new Float32Array(layouts.reduce((sum, layout) => sum + layout.uvs.length, 0));
  const indices = new Uint32Array(layouts.reduce((sum, layout) => sum + layout.indices.length, 0));
  let [value, corner] = [0, 0];
  for (const layout of layouts) {
    uvs.set(layout.uvs, value);
    for (const vertex of layout.indices) indices[corner++] = vertex + value / 2;
    value += layout.uvs.length;
  }
  return { uvs, indices };
}

async function guideOf({
  meshes,
  uvSets,
  options,
  format,
  under,
}: Extract<MeshRequest, { what: 'guide' }>): Promise<NamedFile> {
  const parts = meshes.map((mesh, i) => ({ name: mesh.name, layout: layoutOf(named(mesh), uvSets[i] ?? 0) }));
  return {
    name: `${meshes[0]!.name}_guide.${options.tile}.${format}`,
    bytes: await drawn(parts, options, format, under),
  };
}

function drawn(
  parts: GuidePart[],
  options: GuideOptions,
  format: GuideFormat,
  under: GuideMap[],
): Uint8Array | Promise<Uint8Array> {
  if (format === 'ora' || format === 'psd') return layeredGuide(parts, options, format, under);
  const svg = guideDrawing(parts, options);
  return format === 'svg' ? new TextEncoder().encode(svg) : drawSvg(svg, format);
}
