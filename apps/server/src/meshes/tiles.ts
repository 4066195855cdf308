import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { shiftBy, tileOrigin, type UvMatrix } from '@zographos/core/uv';
import type { Asset, ImageSet, TileOfSet } from '@zographos/contracts';
import { parseSettings, type BakeOperationSettings } from '@zographos/operations';
import { imageSets, mapRevisions, maps, tickets, type ImageSetRow } from '../data/entities.ts';
import { readAsset, readImageSet } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { claimMaps, imageSetOf } from '../tickets/tickets.ts';
import type { Services } from '../services.ts';
import { changeMeshAsset } from './changeMeshes.ts';
import { meshAsset } from './meshAsset.ts';

/** The UDIM tiles of an image set: which there are, and how large. */

export interface TilesChange {
  uvSet: number;
  tiles: TileOfSet[];
  namePattern?: string | undefined;
  /** Whether tiles may go in which islands or maps are. */
  confirmed: boolean;
}

/**
 * Gives the image set of a mesh its tiles, each with its size, and every ticket that fills it too. Islands stay where they
 * are, whatever becomes of their tile; the maps of a tile that goes are deleted.
 * @throws conflict/tile-filled when islands or maps are in a tile that is to go and that was not confirmed
 */
export async function setTiles(
  database: DataSource,
  assetId: string,
  { uvSet, tiles, namePattern, confirmed }: TilesChange,
): Promise<ImageSet> {
  const { asset, projectId } = await meshAsset(database, assetId);
  const id = await database.transaction(async (manager) => {
    const setId = await imageSetOf(manager, projectId, assetId, uvSet);
    const row = await lockedSet(manager, setId);
    const kept = new Set(tiles.map(({ number }) => number));
    const withIslands = asset.inspection.uvTiles[uvSet] ?? [];
    const mapRows = await manager.getRepository(maps).findBy({ imageSetId: setId });
    const made: typeof mapRows = [];
    for (const map of mapRows) {
      if (!kept.has(map.tile) && (await manager.getRepository(mapRevisions).existsBy({ mapId: map.id })))
        made.push(map);
    }
    const before = new Set([...row.tiles.map(({ number }) => number), ...(row.tiles.length === 0 ? withIslands : [])]);
    const going = [...before].filter((tile) => !kept.has(tile));
    const filled = going.filter((tile) => withIslands.includes(tile) || made.some((map) => map.tile === tile));
    if (filled.length > 0 && !confirmed) throw stillFilled(filled[0]!, withIslands, made);
    for (const map of mapRows) if (going.includes(map.tile)) await manager.getRepository(maps).delete({ id: map.id });
    await manager
      .getRepository(imageSets)
      .save({ ...row, tiles, ...(namePattern === undefined ? {} : { namePattern }) });
    for (const ticket of await manager.getRepository(tickets).findBy({ imageSetId: setId })) {
      if (ticket.operation !== 'bake') continue;
      const settings = parseSettings('bake', ticket.settings);
      ticket.settings = onTiles(settings, tiles, withIslands);
      await manager.getRepository(tickets).save(ticket);
      await claimMaps(manager, ticket);
    }
    return setId;
  });
  await announce(database, { type: 'changed', projectId });
  return readImageSet(database, id);
}

function stillFilled(tile: number, withIslands: readonly number[], made: readonly { tile: number }[]): ZographosError {
  const count = made.filter((map) => map.tile === tile).length;
  const what = [
    ...(withIslands.includes(tile) ? ['islands'] : []),
    ...(count > 0 ? [`${count} ${count === 1 ? 'map' : 'maps'}`] : []),
  ].join(' and ');
  return new ZographosError(
    'conflict/tile-filled',
    `UDIM tile ${tile} still has ${what}. Move the islands to another tile first, or choose “Remove ${tile} with its maps”, which deletes the maps.`,
  );
}

/** The settings of a ticket that fills these tiles, each at its own size. */
function onTiles(
  settings: BakeOperationSettings,
  tiles: readonly TileOfSet[],
  withIslands: readonly number[],
): BakeOperationSettings {
  const { size } = settings;
  const numbers = tiles.map(({ number }) => number);
  const filled = withIslands.filter((tile) => numbers.includes(tile));
  const all = filled.length === withIslands.length || filled.length === 0;
  const own = tiles.filter(({ width, height }) => width !== size.width || height !== size.height);
  return {
    ...settings,
    tiles: settings.tiles === 'all' && all ? 'all' : remaining(settings.tiles, filled),
    tileSizes: Object.fromEntries(own.map(({ number, width, height }) => [number, { width, height }])),
  };
}

function remaining(named: BakeOperationSettings['tiles'], filled: readonly number[]): BakeOperationSettings['tiles'] {
  const left = named === 'all' ? [...filled] : named.filter((tile) => filled.includes(tile));
  return left.length > 0 ? left : named;
}

/**
 * Gives a tile another number: its islands move there, and its maps and sizes go with them.
 * @param from the content that the change was made on
 * @throws conflict/tile-filled when the other tile is not empty
 */
export async function renumberTile(
  services: Services,
  assetId: string,
  from: string,
  { uvSet, tile, to, islands }: { uvSet: number; tile: number; to: number; islands: number[] },
): Promise<Asset> {
  const { database } = services;
  const { asset, projectId } = await meshAsset(database, assetId);
  if (asset.inspection.uvTiles[uvSet]?.includes(to)) throw stillFilled(to, [to], []);
  // Asked before islands move, so that a refusal leaves everything as it was.
  const set = await database.getRepository(imageSets).findOneBy({ receiverId: assetId, uvSet, lit: false });
  if (set && (await database.getRepository(maps).existsBy({ imageSetId: set.id, tile: to }))) {
    throw stillFilled(to, [], [{ tile: to }]);
  }
  const [u0, v0] = tileOrigin(tile);
  const [u1, v1] = tileOrigin(to);
  const matrix: [...UvMatrix] = [...shiftBy(u1 - u0, v1 - v0)];
  if (islands.length > 0) {
    await changeMeshAsset(services, assetId, from, { what: 'move-islands', uvSet, moves: [{ islands, matrix }] });
  }
  await database.transaction(async (manager) => {
    const known = await manager.getRepository(imageSets).findOneBy({ receiverId: assetId, uvSet, lit: false });
    if (!known) return;
    const row = await lockedSet(manager, known.id);
    if (await manager.getRepository(maps).existsBy({ imageSetId: row.id, tile: to }))
      throw stillFilled(to, [], [{ tile: to }]);
    const number = (each: number): number => (each === tile ? to : each);
    await manager.getRepository(maps).update({ imageSetId: row.id, tile }, { tile: to });
    await manager
      .getRepository(imageSets)
      .save({ ...row, tiles: row.tiles.map((each) => ({ ...each, number: number(each.number) })) });
    for (const ticket of await manager.getRepository(tickets).findBy({ imageSetId: row.id })) {
      if (ticket.operation !== 'bake') continue;
      const settings = parseSettings('bake', ticket.settings);
      const sizes = Object.entries(settings.tileSizes).map(([key, size]) => [number(Number(key)), size] as const);
      ticket.settings = {
        ...settings,
        tiles: settings.tiles === 'all' ? 'all' : settings.tiles.map(number),
        tileSizes: Object.fromEntries(sizes),
      };
      await manager.getRepository(tickets).save(ticket);
    }
  });
  await announce(database, { type: 'changed', projectId });
  return readAsset(database, assetId);
}

async function lockedSet(manager: EntityManager, id: string): Promise<ImageSetRow> {
  return manager.getRepository(imageSets).findOneOrFail({ where: { id }, lock: { mode: 'pessimistic_write' } });
}
