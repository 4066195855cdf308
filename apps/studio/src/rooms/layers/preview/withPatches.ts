import type { LayeredPicture } from './layersMessages.ts';
import type { Patch } from './penPatches.ts';

interface PatchedTile {
  tile: number;
  maps: LayeredPicture[];
  mask: LayeredPicture | null;
}

/** Maps with parts exchanged: their bytes are written over, and each says which of them are new. */
export function withPatches<Tile extends PatchedTile>(
  tiles: readonly Tile[],
  patched: readonly { tile: number; patches: readonly Patch[] }[],
): Tile[] {
  return tiles.map((own) => {
    const patches = patched.find(({ tile }) => tile === own.tile)?.patches ?? [];
    if (patches.length === 0) return own;
    const maps = own.maps.map((map): LayeredPicture => {
      for (const patch of patches) writeOver(map, patch);
      const isOfIt = patches[0]!.maps.some(({ kind }) => kind === map.kind);
      return isOfIt ? { ...map, version: (map.version ?? 0) + 1, changed: patches } : map;
    });
    return { ...own, maps };
  });
}

function writeOver(map: LayeredPicture, { x, y, width, height, maps }: Patch): void {
  const part = maps.find(({ kind }) => kind === map.kind);
  if (!part) return;
  for (let row = 0; row < height; row++) {
    const from = row * width * 4;
    map.rgba.set(part.rgba.subarray(from, from + width * 4), ((y + row) * map.width + x) * 4);
  }
}
