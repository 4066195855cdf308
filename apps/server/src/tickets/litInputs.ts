import { In, type EntityManager } from 'typeorm';
import type { TicketInputs } from '@zographos/contracts';
import type { LightSettings } from '@zographos/operations';
import { WORN_KINDS, type WornKind } from '@zographos/operations/scene';
import { imageSets, maps, tickets, type LightTicketRow, type MapRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { wearersOf } from '../data/wearers.ts';

/**
 * Fills in the maps that the meshes of a light ticket wear, as the project has them now; what the artist has chosen, an
 * image of the environment, stays first. Of several image sets on a mesh the first that has a base colour is worn.
 */
export async function resolvedLight(
  manager: EntityManager,
  { projectId, settings, inputs }: Pick<LightTicketRow, 'projectId' | 'settings' | 'inputs'>,
): Promise<{ settings: LightSettings; inputs: TicketInputs }> {
  const pictures = settings.environment.kind === 'picture' ? (inputs.pictures ?? []).slice(0, 1) : [];
  const worn: LightSettings['worn'] = [];
  if (settings.materials === 'maps') {
    const meshes = [...inputs.receivers, ...inputs.sources];
    const sets = await wornSets(manager, projectId, meshes);
    for (const [mesh, id] of meshes.entries()) {
      const set = sets.get(id);
      if (!set) continue;
      for (const { kind, tile, picture } of set.maps) {
        const known = pictures.indexOf(picture);
        const number = known >= 0 ? known : pictures.push(picture) - 1;
        worn.push({ mesh, uvSet: set.uvSet, kind, tile, picture: number });
      }
    }
  }
  return { settings: { ...settings, worn }, inputs: { ...inputs, pictures } };
}

interface WornSet {
  uvSet: number;
  maps: { kind: WornKind; tile: number; picture: string }[];
}

/** The tickets that make those maps that are not made yet. @param pictures maps, or images that came in */
export async function makersOfUnmade(manager: EntityManager, pictures: readonly string[]): Promise<string[]> {
  const rows = await manager.getRepository(maps).findBy({ id: In([...pictures]) });
  const made = await latestMapRevisions(manager, [...pictures]);
  return [...new Set(rows.filter(({ id }) => !made.has(id)).flatMap(({ ticketId }) => ticketId ?? []))];
}

/** The set that each mesh wears, with its maps: those that layers make before those that were baked. */
async function wornSets(
  manager: EntityManager,
  projectId: string,
  meshes: readonly string[],
): Promise<Map<string, WornSet>> {
  const sets = await manager
    .getRepository(imageSets)
    .find({ where: { projectId, lit: false }, order: { uvSet: 'ASC', createdAt: 'ASC' } });
  const imageSetId = In(sets.map(({ id }) => id));
  const users = await manager.getRepository(tickets).findBy({ imageSetId, operation: In(['bake', 'layers']) });
  const rows = await manager
    .getRepository(maps)
    .find({ where: { imageSetId, kind: In(WORN_KINDS) }, order: { kind: 'ASC', tile: 'ASC' } });
  const isLaidOver = (row: MapRow): boolean =>
    rows.some(
      ({ layered, imageSetId: set, kind, tile }) =>
        layered && !row.layered && set === row.imageSetId && kind === row.kind && tile === row.tile,
    );
  const found = new Map<string, WornSet & { hasColor: boolean }>();
  for (const set of sets) {
    const own = rows.filter((map) => map.imageSetId === set.id && !isLaidOver(map));
    const hasColor = own.some(({ kind }) => kind === 'basecolor');
    for (const mesh of wearersOf(set, users)) {
      if (own.length === 0 || !meshes.includes(mesh)) continue;
      const known = found.get(mesh);
      if (known && (known.hasColor || !hasColor)) continue;
      const worn = own.map(({ id, kind, tile }) => ({ kind: kind as WornKind, tile, picture: id }));
      found.set(mesh, { uvSet: set.uvSet, maps: worn, hasColor });
    }
  }
  return found;
}
