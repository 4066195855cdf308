import { runFlatTicket } from '../flat/runFlatTicket.ts';
import type { FlatReport } from '../flat/report.ts';
import type { Run } from '../runContext.ts';
import { makeTiles, tileMakerOf } from './makeTiles.ts';
import type { SeamlessSettings } from './settings.ts';

/** Makes tiles of the images of a ticket. @throws limit/memory, input/bad-settings, run/cancelled */
export const run: Run<SeamlessSettings, FlatReport> = (context) => {
  const { settings } = context;
  return runFlatTicket(context, {
    meanings: settings.pictures,
    needs: { kind: 'seamless', size: () => settings.size, maps: settings.pictures.length },
    make: async (pictures, put) => {
      for (const map of makeTiles(settings, tileMakerOf(settings, pictures), context)) await put(map);
    },
  });
};
