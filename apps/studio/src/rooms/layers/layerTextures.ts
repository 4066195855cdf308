import type { DataTexture, Texture } from 'three';
import type { MapKind } from '@zographos/core/image';
import { mapTexture } from '../../viewport/materials/mapTextures.ts';
import type { MapTextures } from '../../viewport/materials/viewMaterial.ts';
import type { LayeredPicture } from './preview/layersWorker.ts';

/** What a tile wears: its maps, and the mask that may be shown in their place. */
export interface PicturesOfTile {
  tile: number;
  maps: readonly LayeredPicture[];
  mask: LayeredPicture | null;
}

/** The mask is shown as a map of a kind that nothing else here has. */
export const MASK_KIND: MapKind = 'mask';

/** Maps of a stack as textures, whose bytes are exchanged while settings move. */
export class LayerTextures {
  private tiles = new Map<number, Map<MapKind, DataTexture>>();

  /** @returns whether materials have to be made anew, for other maps are there than before */
  set(tiles: readonly PicturesOfTile[]): boolean {
    let isOther = tiles.length !== this.tiles.size;
    const next = new Map<number, Map<MapKind, DataTexture>>();
    for (const { tile, maps, mask } of tiles) {
      const before = this.tiles.get(tile);
      const all: [MapKind, LayeredPicture][] = maps.map((map) => [map.kind, map]);
      if (mask) all.push([MASK_KIND, mask]);
      if (all.length !== before?.size) isOther = true;
      const textures = new Map<MapKind, DataTexture>();
      for (const [kind, { width, height, rgba }] of all) {
        const known = before?.get(kind);
        if (known && known.image.width === width && known.image.height === height) {
          known.image.data = rgba;
          known.needsUpdate = true;
          textures.set(kind, known);
        } else {
          isOther = true;
          // Pictures with bytes become textures with bytes.
          textures.set(kind, mapTexture(kind, { width, height, rgba, values: null }) as DataTexture);
        }
      }
      next.set(tile, textures);
    }
    this.drop(
      (texture) => ![...next.values()].some((textures) => [...textures.values()].includes(texture as DataTexture)),
    );
    this.tiles = next;
    return isOther;
  }

  of(tile: number): MapTextures {
    return this.tiles.get(tile) ?? new Map();
  }

  dispose(): void {
    this.drop(() => true);
    this.tiles.clear();
  }

  private drop(isGone: (texture: Texture) => boolean): void {
    for (const textures of this.tiles.values()) {
      for (const texture of textures.values()) if (isGone(texture)) texture.dispose();
    }
  }
}
