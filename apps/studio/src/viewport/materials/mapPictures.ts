import type { Texture } from 'three';
import { PATHS, type MapRevision } from '@zographos/contracts';
import { GLTF_NORMAL, type MapKind, type NormalSpace } from '@zographos/core/image';
import { mapTexture } from './mapTextures.ts';
import type { MapTextures } from './viewMaterial.ts';

/** The newest map of each kind that one UDIM tile of a model carries. */
export interface TileMaps {
  tile: number;
  maps: ReadonlyMap<MapKind, MapRevision>;
}

/** The same as textures, with the convention of its normals. */
export interface LoadedTile {
  maps: MapTextures;
  normals: NormalSpace;
}

/** Pictures longer than this are fetched smaller: the view is no larger. */
const MOST_TEXELS = 2048;

/** The textures of stored maps: each is fetched once, and kept until it is given back. */
export class MapPictures {
  private textures = new Map<string, Promise<Texture>>();

  /** @throws Error when a picture cannot be had; asked again, it is fetched again */
  async load(tiles: readonly TileMaps[]): Promise<Map<number, LoadedTile>> {
    const loaded = tiles.map(async ({ tile, maps }): Promise<[number, LoadedTile]> => {
      const textures = [...maps].map(async ([kind, { id }]): Promise<[MapKind, Texture]> => [
        kind,
        await this.textureOf(kind, id),
      ]);
      const convention = maps.get('normal')?.convention;
      const normals = convention?.of === 'direction' ? convention : GLTF_NORMAL;
      return [tile, { maps: new Map(await Promise.all(textures)), normals }];
    });
    return new Map(await Promise.all(loaded));
  }

  /** Gives back the textures that are on none of these tiles. */
  keepOnly(tiles: readonly TileMaps[]): void {
    const revisions = tiles.flatMap(({ maps }) => [...maps.values()].map(({ id }) => id));
    for (const id of [...this.textures.keys()]) if (!revisions.includes(id)) this.drop(id);
  }

  dispose(): void {
    for (const id of [...this.textures.keys()]) this.drop(id);
  }

  private textureOf(kind: MapKind, id: string): Promise<Texture> {
    const known = this.textures.get(id);
    if (known) return known;
    const texture = fetch(PATHS.picture(id, MOST_TEXELS))
      .then((response) => {
        if (!response.ok) throw new Error('A map could not be fetched from the server.');
        return response.blob();
      })
      .then((blob) => createImageBitmap(blob, { colorSpaceConversion: 'none', premultiplyAlpha: 'none' }))
      .then((bitmap) => mapTexture(kind, bitmap));
    texture.catch(() => this.textures.delete(id));
    this.textures.set(id, texture);
    return texture;
  }

  private drop(id: string): void {
    void this.textures.get(id)?.then(
      (texture) => texture.dispose(),
      () => {},
    );
    this.textures.delete(id);
  }
}
