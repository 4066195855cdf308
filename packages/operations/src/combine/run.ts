import { setImmediate as nextTurn } from 'node:timers/promises';
import { describeKind } from '@zographos/core/image';
import { runFlatTicket } from '../flat/runFlatTicket.ts';
import type { FlatReport } from '../flat/report.ts';
import { throwIfCancelled, type Run } from '../runContext.ts';
import { combinedMap } from './combineMaps.ts';
import type { CombineSettings } from './settings.ts';

/** Combines the maps of a ticket, one after the other. @throws limit/memory, input/bad-settings, run/cancelled */
export const run: Run<CombineSettings, FlatReport> = (context) => {
  const { settings, cancelFlag, onProgress } = context;
  return runFlatTicket(context, {
    meanings: settings.pictures,
    needs: { kind: 'combine', size: () => settings.size, maps: settings.maps.length },
    make: async (images, put) => {
      for (const [done, { kind }] of settings.maps.entries()) {
        const share = done / settings.maps.length;
        onProgress({ stage: 'trace', share, secondsLeft: null, note: describeKind(kind).phrase });
        // Whoever wants to stop it from this thread is heard between two maps.
        await nextTurn();
        throwIfCancelled(cancelFlag);
        await put(combinedMap(settings, images, kind));
      }
    },
  });
};
