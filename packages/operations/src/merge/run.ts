import { PLAIN_MATERIAL } from '@zographos/core/mesh';
import { layoutProgress } from '../layout/run.ts';
import { secondsSince, withSignal, type Run } from '../runContext.ts';
import { costOf, costOfMerge } from './drawCost.ts';
import { onOneLayout, withOneMaterial } from './mergeMeshes.ts';
import type { MergeReport } from './report.ts';
import type { MergeSettings } from './settings.ts';

/**
 * Puts the objects of a merge on one layout and gives them one material, whose maps are baked by the ticket of
 * `ticketOfMerge`.
 * @throws input/no-uvs, limit/packing, run/cancelled
 */
export const run: Run<MergeSettings, MergeReport> = async ({ settings, inputs, cancelFlag, onProgress, put }) => {
  const since = performance.now();
  const objects = inputs.receivers.map(({ mesh }) => mesh);
  const laidOut = await withSignal(cancelFlag, (cancel) =>
    onOneLayout(objects, settings, (progress) => onProgress(layoutProgress(progress)), cancel, cancelFlag),
  );
  const merged = withOneMaterial(laidOut, settings, { material: PLAIN_MATERIAL, pictures: [] });
  for (const mesh of merged) await put({ what: 'mesh', mesh });
  const [before, after] = [await costOf(objects), costOfMerge(objects.length, settings)];
  return { report: { before, after, seconds: secondsSince(since) } };
};
