import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import { VIEW_TRANSFORMS, type ViewTransform } from '@zographos/core/light';
import { encodeExrLayers } from '@zographos/formats/images';
import { groupNames, GROUP_KINDS, refuseBeyondMemory } from '@zographos/operations';
import { maps, tickets, type ImageSetRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { loadMapImage } from '../data/mapImages.ts';
import type { Services } from '../services.ts';
import { parseRequest } from './answer.ts';

const viewQuery = z.object({
  view: z.enum(VIEW_TRANSFORMS).default('srgb'),
  exposure: z.coerce.number().min(-32).max(32).default(0),
});

/** How light is to be shown in a file of whole numbers. @throws input/bad-request */
export function viewOf(query: unknown): [view: ViewTransform, exposure: number] {
  const { view, exposure } = parseRequest(viewQuery, query);
  return [view, exposure];
}

/**
 * All maps of one tile of a set in light as layers of one OpenEXR, called after their kinds and light groups. The combined
 * light has plain channels, which are what viewers show that know no layers.
 * @throws missing/not-found where there is no light; limit/memory
 */
export async function lightLayers(
  { database, blobs, config }: Services,
  { id, name }: ImageSetRow,
  tile: number,
  samples: 'float' | 'half',
): Promise<Uint8Array> {
  const rows = await database.getRepository(maps).findBy({ imageSetId: id, tile });
  const made = await latestMapRevisions(
    database.manager,
    rows.map((row) => row.id),
  );
  const revisions = rows.flatMap(({ id: map, kind }) => (made.has(map) ? [{ kind, revision: made.get(map)! }] : []));
  if (revisions.length === 0) {
    throw new ZographosError(
      'missing/not-found',
      `“${name}” has no light on tile ${tile} yet. Run its light ticket, and ask again.`,
    );
  }
  const bytes = revisions.reduce((sum, { revision: { directory } }) => {
    const { width, height } = directory.levels[0]!;
    return sum + width * height * directory.channels * 4 * 2;
  }, 0);
  const wayOut = 'Download them one by one, or deliver the set.';
  refuseBeyondMemory(bytes, config.memoryLimitBytes, `All passes of “${name}” in one file`, wayOut);
  const [ticket] = await database.getRepository(tickets).findBy({ imageSetId: id, operation: 'light' });
  const groups = ticket?.operation === 'light' ? groupNames(ticket.settings) : [];
  const layers: [string, Image][] = [];
  for (const { kind, revision } of revisions) {
    const group = groups[GROUP_KINDS.indexOf(kind)];
    const layer = kind === 'combined' ? '' : group ? `group-${group}` : kind;
    layers.push([layer, await loadMapImage(blobs, revision)]);
  }
  return encodeExrLayers(layers, samples);
}
