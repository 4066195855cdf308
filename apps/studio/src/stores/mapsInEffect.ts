import type { TextureMap } from '@zographos/contracts';

/**
 * The maps of an image set that count: of each place the one that layers have made, if they have, else the one that was
 * baked or brought in.
 */
export const mapsInEffect = (maps: readonly TextureMap[]): TextureMap[] =>
  maps.filter(
    (map) =>
      map.layered ||
      !maps.some(
        ({ layered, kind, tile, revisions }) => layered && revisions[0] && kind === map.kind && tile === map.tile,
      ),
  );
