import { In, type EntityManager } from 'typeorm';
import { describeKind, type MapKind } from '@zographos/core/image';
import { measuredKindsOf } from '@zographos/core/layers';
import type { TicketInputs } from '@zographos/contracts';
import { chosenPictures, DEFAULT_BAKE, parseSettings, type LayersSettings } from '@zographos/operations';
import { assets, imageSets, maps, tickets, type BakeTicketRow, type LayersTicketRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { wearersOf } from '../data/wearers.ts';

/** What stands for a real unit in millimetres; meshes whose unit nobody knows are taken to be in millimetres. */
const MILLIMETRES: Readonly<Record<string, number>> = { mm: 1, cm: 10, m: 1000, in: 25.4 };

/**
 * Fills in what the layers of a ticket are made of, as the project has it now: the meshes of its image set, the maps of
 * the set that its masks go by, and the maps of its tiling materials. What the artist has chosen stays as it is.
 */
export async function resolvedStack(
  manager: EntityManager,
  { imageSetId, settings, inputs }: Pick<LayersTicketRow, 'imageSetId' | 'settings' | 'inputs'>,
): Promise<{ settings: LayersSettings; inputs: TicketInputs }> {
  const set = await manager.getRepository(imageSets).findOneByOrFail({ id: imageSetId });
  const bakes = await manager.getRepository(tickets).findBy({ imageSetId, operation: 'bake' });
  const receivers = wearersOf(set, bakes);
  const first = receivers[0] && (await manager.getRepository(assets).findOneBy({ id: receivers[0] }));
  const pictures = chosenPictures(settings, inputs.pictures ?? []);
  const number = (id: string): number => {
    const at = pictures.indexOf(id);
    return at >= 0 ? at : pictures.push(id) - 1;
  };
  const needed = measuredKindsOf(settings.layers);
  const own = await manager
    .getRepository(maps)
    .find({ where: { imageSetId, kind: In(needed), layered: false }, order: { kind: 'ASC', tile: 'ASC' } });
  const measured = own.map(({ id, kind, tile }) => ({ kind, tile, picture: number(id) }));
  const materials: LayersSettings['materials'] = [];
  for (const material of settings.materials) {
    const flat = material.set && (await manager.getRepository(imageSets).findOneBy({ id: material.set }));
    if (!flat) {
      materials.push({ ...material, maps: {} });
      continue;
    }
    const rows = await manager
      .getRepository(maps)
      .find({ where: { imageSetId: flat.id, layered: false }, order: { kind: 'ASC' } });
    const held = Object.fromEntries(rows.map(({ id, kind }) => [kind, number(id)])) as Partial<Record<MapKind, number>>;
    materials.push({ ...material, name: flat.name, width: flat.tileWidth ?? material.width, maps: held });
  }
  return {
    settings: {
      ...settings,
      uvSet: set.uvSet,
      unit: first ? (MILLIMETRES[first.unit ?? ''] ?? 1) : 1,
      tileWidth: set.tileWidth ?? settings.tileWidth,
      measured,
      materials,
    },
    inputs: { receivers, sources: [], pictures },
  };
}

/** The kinds that a stack goes by and that nothing has made yet, in any tile. */
export async function lackingKinds(
  manager: EntityManager,
  { imageSetId, settings }: Pick<LayersTicketRow, 'imageSetId' | 'settings'>,
): Promise<{ kind: MapKind; ticketId: string | null }[]> {
  const needed = measuredKindsOf(settings.layers);
  const rows = await manager.getRepository(maps).findBy({ imageSetId, kind: In(needed), layered: false });
  const made = await latestMapRevisions(
    manager,
    rows.map(({ id }) => id),
  );
  return needed
    .filter((kind) => !rows.some((row) => row.kind === kind && made.has(row.id)))
    .map((kind) => ({ kind, ticketId: rows.find((row) => row.kind === kind)?.ticketId ?? null }));
}

/**
 * The ticket that bakes maps for a stack: as the set's own bakes are, at the size of the stack; from the receiver itself
 * if it has none.
 */
export async function bakeForStack(
  manager: EntityManager,
  { imageSetId, settings }: Pick<LayersTicketRow, 'imageSetId' | 'settings'>,
  kinds: readonly MapKind[],
): Promise<Pick<BakeTicketRow, 'name' | 'settings' | 'inputs'>> {
  const set = await manager.getRepository(imageSets).findOneByOrFail({ id: imageSetId });
  const known = (await manager.getRepository(tickets).findBy({ imageSetId, operation: 'bake' })) as BakeTicketRow[];
  const like = known.find(({ inputs }) => inputs.sources.length > 0);
  const baked = kinds.filter((kind) => describeKind(kind).isBaked);
  const base = like ? parseSettings('bake', like.settings) : { ...DEFAULT_BAKE, aim: 'shared' as const };
  const receivers = wearersOf(set, known);
  const inputs = like ? like.inputs : { receivers, sources: receivers };
  return {
    name: `${set.name}, for its layers`,
    settings: parseSettings('bake', {
      ...base,
      ...{ maps: baked, pictures: {}, size: settings.size, tiles: settings.tiles, uvSet: set.uvSet, prove: false },
    }),
    inputs: { ...inputs, pictures: [] },
  };
}
