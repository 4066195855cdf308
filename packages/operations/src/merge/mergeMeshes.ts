import {
  joinMeshes,
  uvSetFirst,
  withOneSlot,
  type Material,
  type MaterialPicture,
  type Mesh,
} from '@zographos/core/mesh';
import type { MergeSettings } from './settings.ts';
import type { LayoutProgress } from '../layout/layOut.ts';
import { layOutOnThread } from '../layout/layOutOnThread.ts';

/**
 * Objects on the layout that they are to share, that layout first.
 * @throws input/no-uvs, limit/packing, run/cancelled
 */
export async function onOneLayout(
  objects: readonly Mesh[],
  { layout, uvSet }: Pick<MergeSettings, 'layout' | 'uvSet'>,
  onProgress: (progress: LayoutProgress) => void = () => {},
  cancel?: AbortSignal,
  flag: Int32Array | null = null,
): Promise<Mesh[]> {
  if (!layout) {
    return objects.map((mesh) => (mesh.uvSets[uvSet] ? uvSetFirst(mesh, uvSet) : mesh));
  }
  return (await layOutOnThread([...objects], { ...layout, place: 'first' }, onProgress, cancel, flag)).meshes;
}

/** The same objects with one material and, unless the others are kept, their first layout alone; as one mesh or apart. */
export function withOneMaterial(
  laidOut: readonly Mesh[],
  { name, keepObjects, keepUvSets }: Pick<MergeSettings, 'name' | 'keepObjects' | 'keepUvSets'>,
  { material, pictures }: { material: Material; pictures: MaterialPicture[] },
): Mesh[] {
  const one = laidOut.map((mesh): Mesh => ({
    ...withOneSlot(mesh, name, keepUvSets),
    materials: [material],
    pictures,
  }));
  return keepObjects ? one : [joinMeshes(name, one)];
}
