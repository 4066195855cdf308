import { phraseOfKinds } from '@zographos/core/image';
import { layoutOperation } from '../layout/operation.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { spacingText } from '../layout/settings.ts';
import { namesText, sizeText } from '../wording.ts';
import { mergeReport } from './report.ts';
import { mergeSettings, type MergeSettings } from './settings.ts';

/**
 * Merges the materials of some objects into one: its result is a mesh (or as many as there were) with one material; the
 * ticket of `ticketOfMerge` bakes that material's maps from the objects, which stay.
 */
export const mergeOperation = defineOperation({
  kind: 'merge',
  version: 1,
  ticket: null,
  settings: mergeSettings,
  report: mergeReport,
  outputs: ({ maps }) => [...maps],
  goesByName: () => true,
  estimate: ({ layout }, inputs) =>
    layout ? layoutOperation.estimate(layout, inputs) : { rays: 0, memoryBytes: BASE_BYTES },
  sentence,
  load: () => import('#run/merge'),
});

function sentence(
  { name, maps, layout, size, padding, samples, keepObjects }: MergeSettings,
  { receivers }: SentenceNames,
): SentencePart[] {
  return [
    { text: 'Merge the materials of ' },
    { text: namesText(receivers, 'mesh'), slot: 'receivers' },
    { text: ' into ' },
    { text: name, slot: 'name' },
    { text: ', ' },
    { text: keepObjects ? 'keeping the objects' : 'one mesh', slot: 'name' },
    { text: ': ' },
    { text: phraseOfKinds(maps), slot: 'maps' },
    { text: ' at ' },
    { text: sizeText(size), slot: 'size' },
    { text: ', on ' },
    { text: layout ? 'a new layout' : 'the layout they share', slot: 'layout' },
    ...(layout ? [{ text: ' with island spacing ' }, { text: spacingText(layout.gap), slot: 'layout' }] : []),
    { text: ', with ' },
    { text: `${samples} × ${samples}`, slot: 'samples' },
    { text: ' samples and ' },
    { text: padding === 'all' ? 'padding over the whole map' : `${padding} px`, slot: 'padding' },
    { text: padding === 'all' ? '.' : ' padding.' },
  ];
}
