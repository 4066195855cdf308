import type { MapRevisionRow, MapRow } from './entities.ts';

/**
 * The maps of image sets that count: of each place the one that layers have made, if they have, else the one that was
 * baked or brought in.
 * @param made the newest revisions, by map
 */
export const mapsInEffect = <Row extends Pick<MapRow, 'id' | 'imageSetId' | 'kind' | 'tile' | 'layered'>>(
  rows: readonly Row[],
  made: ReadonlyMap<string, MapRevisionRow>,
): Row[] =>
  rows.filter(
    (row) =>
      row.layered ||
      !rows.some(
        (other) =>
          other.layered &&
          made.has(other.id) &&
          other.imageSetId === row.imageSetId &&
          other.kind === row.kind &&
          other.tile === row.tile,
      ),
  );
