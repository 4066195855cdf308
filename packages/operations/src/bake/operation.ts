import { defineOperation } from '../operation.ts';
import { estimateBake } from './estimate.ts';
import { bakeReport } from './report.ts';
import { resolveTiles } from './resolveTiles.ts';
import { bakeSentence, moreBakeSentences } from './sentence.ts';
import { bakeSettings } from './settings.ts';

/** Bakes maps of a receiver from its sources; maps may also be carried over from images that lie on them. */
export const bakeOperation = defineOperation({
  kind: 'bake',
  version: 4,
  ticket: 'mesh',
  settings: bakeSettings,
  report: bakeReport,
  outputs: (settings) => settings.maps,
  resolve: resolveTiles,
  goesByName: ({ match, reachOf, occlusion }) =>
    match !== 'all' || Object.keys(reachOf).length > 0 || Array.isArray(occlusion.occluders),
  estimate: estimateBake,
  sentence: bakeSentence,
  moreSentences: moreBakeSentences,
  load: () => import('#run/bake'),
});
