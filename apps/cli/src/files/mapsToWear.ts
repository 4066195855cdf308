import type { Mesh } from '@zographos/core/mesh';
import { layoutOf, tilesOf } from '@zographos/core/uv';
import { WORN_KINDS, type WornMap } from '@zographos/operations/scene';
import { readSet } from './mapFolder.ts';

/**
 * Reads the maps of a folder that meshes can wear, for each UDIM tile that they have islands in.
 * @throws missing/not-found, input/bad-settings for a folder without maps; input/no-uvs
 */
export async function mapsToWear(folder: string, meshes: readonly Mesh[], uvSet: number): Promise<WornMap[]> {
  const tiles = new Set(meshes.flatMap((mesh) => [...tilesOf(layoutOf(mesh, uvSet).uvs, mesh.indices).tiles.keys()]));
  const worn: WornMap[] = [];
  for (const tile of tiles) {
    const { maps } = await readSet(folder, tile);
    for (const kind of WORN_KINDS) {
      const map = maps.get(kind);
      if (map) worn.push({ kind, tile, image: map.image });
    }
  }
  return worn;
}
