import { runFlatTicket } from '../flat/runFlatTicket.ts';
import type { FlatReport } from '../flat/report.ts';
import type { Run } from '../runContext.ts';
import { makeCutouts, type Cutouts } from './makeCutouts.ts';
import type { CutoutsSettings } from './settings.ts';

/** Packs cut-outs into an atlas. @throws limit/memory, limit/packing, input/bad-settings, run/cancelled */
export const run: Run<CutoutsSettings, FlatReport> = async (context) => {
  const { settings } = context;
  let made: Cutouts | null = null;
  const outcome = await runFlatTicket(context, {
    meanings: settings.pictures,
    needs: { kind: 'cutouts', size: () => settings.size, maps: settings.pictures.length },
    make: async (images, put) => {
      made = makeCutouts(settings, images);
      for (const map of made.maps) await put(map);
    },
  });
  const { places = [], scale = 1 } = (made as Cutouts | null) ?? {};
  return { ...outcome, report: { ...outcome.report, cutouts: { places, scale } } };
};
