import { runFlatTicket } from '../flat/runFlatTicket.ts';
import type { FlatReport } from '../flat/report.ts';
import type { Run } from '../runContext.ts';
import { makeCutouts } from './makeCutouts.ts';
import type { CutoutsSettings } from './settings.ts';

/** Packs cut-outs into an atlas. @throws limit/memory, limit/packing, input/bad-settings, run/cancelled */
export const run: Run<CutoutsSettings, FlatReport> = (context) => {
  const { settings } = context;
  return runFlatTicket(context, {
    meanings: settings.pictures,
    needs: { kind: 'cutouts', size: () => settings.size, maps: settings.pictures.length },
    make: async (images, put, tell) => {
      const { maps, places, scale } = makeCutouts(settings, images);
      for (const map of maps) await put(map);
      tell({ cutouts: { places, scale } });
    },
  });
};
