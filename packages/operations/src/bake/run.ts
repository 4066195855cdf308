import { fillBackground, parseBackground } from '@zographos/core/image';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import type { Run } from '../runContext.ts';
import { bakeTicket } from './bakeTicket.ts';
import type { BakeReport } from './report.ts';
import type { BakeOperationSettings } from './settings.ts';

/** Bakes the maps of a ticket. @throws as `bakeTicket` */
export const run: Run<BakeOperationSettings, BakeReport> = async ({ mask, loadSeconds = 0, put, ...context }) => {
  const { maps, report, proof, records } = await bakeTicket({
    ...context,
    loadSeconds,
    mask: mask ? await readImageFile(mask.name, mask.bytes, limitsFrom(process.env)) : null,
    maskHash: mask?.hash ?? null,
  });
  const { background, tileBackgrounds = {} } = context.settings;
  for (const map of maps) {
    const own = tileBackgrounds[map.tile] ?? background;
    const color = own ? parseBackground(own) : null;
    if (color) fillBackground(map.image, map.states, color);
    await put({ what: 'map', ...map });
  }
  return { report, proof, records };
};
