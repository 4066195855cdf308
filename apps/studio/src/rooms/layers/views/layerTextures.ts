import type { DataTexture, Texture } from 'three';
import type { MapKind } from '@zographos/core/image';
import { mapTexture } from '../../../viewport/materials/mapTextures.ts';
import type { MapTextures } from '../../../viewport/materials/viewMaterial.ts';
import type { LayeredPicture } from '../preview/layersMessages.ts';

/** What a tile wears: its maps, and the mask that may be shown in their place. */
export interface PicturesOfTile {
  tile: number;
  /** Width of a texel of these on the surface, in millimetres, in the mean of the layout. */
  texel: number;
  maps: readonly LayeredPicture[];
  mask: LayeredPicture | null;
}

/** The mask is shown as a map of a kind that nothing else here has. */
export const MASK_KIND: MapKind = 'mask';

/** Maps of a stack as textures, whose bytes are exchanged while settings move. */
export class LayerTextures {
  private tiles = new Map<number, Map<MapKind, DataTexture>>();
  /** Those that have yet to be sent as a whole. */
  private readonly whole = new WeakSet<DataTexture>();
  /** The version of each picture that was sent last. */
  private readonly versions = new WeakMap<DataTexture, number>();

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
      for (const [kind, picture] of all) {
        const { width, height, rgba } = picture;
        const known = before?.get(kind);
        if (known && known.image.width === width && known.image.height === height) {
          this.exchange(known, picture);
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

  /** Sends bytes to the graphics card: all of them, or the parts that are new since it was sent last. */
  private exchange(texture: DataTexture, { width, rgba, version = 0, changed }: LayeredPicture): void {
    const isNext = texture.image.data === rgba && version === (this.versions.get(texture) ?? 0) + 1;
    if (isNext && changed && !this.whole.has(texture)) {
      for (const part of changed) {
        for (let row = 0; row < part.height; row++) {
          texture.addUpdateRange(((part.y + row) * width + part.x) * 4, part.width * 4);
        }
      }
    } else {
      texture.clearUpdateRanges();
      this.whole.add(texture);
      texture.onUpdate = () => this.whole.delete(texture);
    }
    texture.image.data = rgba;
    texture.needsUpdate = true;
    this.versions.set(texture, version);
  }

  private drop(isGone: (texture: Texture) => boolean): void {
    for (const textures of this.tiles.values()) {
      for (const texture of textures.values()) if (isGone(texture)) texture.dispose();
    }
  }
}
