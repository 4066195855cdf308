import { runFlatTicket } from '../flat/runFlatTicket.ts';
import type { FlatReport } from '../flat/report.ts';
import type { Run } from '../runContext.ts';
import { drawField } from './drawField.ts';
import type { FieldSettings } from './settings.ts';

/** Draws the maps of a procedural texture. @throws limit/memory, run/cancelled, run/failed */
export const run: Run<FieldSettings, FlatReport> = (context) => {
  const { settings } = context;
  return runFlatTicket(context, {
    meanings: settings.pictures,
    needs: { kind: 'field', size: () => settings.size, maps: settings.maps.length },
    make: async (pictures, put) => {
      for (const map of await drawField(settings, pictures, context)) await put(map);
    },
  });
};
