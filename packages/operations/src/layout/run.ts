import { secondsSince, withSignal, type Progress, type Run } from '../runContext.ts';
import { percentText } from '../wording.ts';
import type { LayoutProgress } from './layOut.ts';
import { layOutOnThread } from './layOutOnThread.ts';
import type { LayoutReport } from './report.ts';
import type { LayoutSettings } from './settings.ts';

/** Lays the receivers out and puts each with its new UV set. @throws input/no-uvs, limit/packing, run/cancelled */
export const run: Run<LayoutSettings, LayoutReport> = async ({ settings, inputs, cancelFlag, onProgress, put }) => {
  const since = performance.now();
  const { meshes, coverage, scale, islands, overlaps } = await withSignal(cancelFlag, (cancel) =>
    layOutOnThread(
      inputs.receivers.map(({ mesh }) => mesh),
      settings,
      (progress) => onProgress(layoutProgress(progress)),
      cancel,
      cancelFlag,
    ),
  );
  for (const mesh of meshes) await put({ what: 'mesh', mesh });
  const uvSet = settings.place === 'first' ? 0 : inputs.receivers[0]!.mesh.uvSets.length;
  return { report: { coverage, scale, islands, overlaps, uvSet, seconds: secondsSince(since) } };
};

/** Cutting counts as the first half, packing as the second. */
export const layoutProgress = ({ stage, share, coverage }: LayoutProgress): Progress => ({
  stage,
  share: stage === 'cut' ? share * 0.5 : 0.5 + share * 0.5,
  secondsLeft: null,
  note: coverage === null ? null : `coverage ${percentText(coverage)} so far`,
});
