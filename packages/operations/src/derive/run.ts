import { requirePicture, runFlatTicket } from '../flat/runFlatTicket.ts';
import type { FlatReport } from '../flat/report.ts';
import type { Run } from '../runContext.ts';
import { deriveMaps } from './deriveMaps.ts';
import type { DeriveSettings } from './settings.ts';

/** Derives the maps of a ticket from its image. @throws limit/memory, input/bad-settings, run/cancelled, run/failed */
export const run: Run<DeriveSettings, FlatReport> = (context) => {
  const { settings } = context;
  return runFlatTicket(context, {
    meanings: [settings.picture],
    needs: { kind: 'derive', size: (pictures) => requirePicture(pictures, 0), maps: settings.maps.length },
    make: (pictures, put) => deriveMaps(settings, pictures, context, put),
  });
};
