import { phraseOfKinds } from '@zographos/core/image';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { flatReport } from '../flat/report.ts';
import { adjusted } from '../flat/sentence.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { inSentence, namesText, percentText } from '../wording.ts';
import { DERIVE_SOURCE_LABELS, TONE_WAY_LABELS } from './options.ts';
import { deriveSettings, type DeriveSettings } from './settings.ts';

/** Maps of a material from one image. */
export const deriveOperation = defineOperation({
  kind: 'derive',
  version: 2,
  ticket: 'flat',
  settings: deriveSettings,
  report: flatReport,
  outputs: ({ maps }) => maps,
  // Of the image's size, which only the run knows: what 4096 px need.
  estimate: () => ({ rays: 0, memoryBytes: BASE_BYTES + 4096 ** 2 * 4 * 24 }),
  sentence,
  load: () => import('#run/derive'),
});

function sentence(
  { maps, from, repeats, height, depth, steepness, adjust }: DeriveSettings,
  { pictures = [] }: SentenceNames,
): SentencePart[] {
  return [
    { text: 'Derive ' },
    { text: phraseOfKinds(maps), slot: 'maps' },
    { text: ' from ' },
    { text: DERIVE_SOURCE_LABELS[from].phrase, slot: 'from' },
    { text: ' of ' },
    { text: namesText(pictures, 'image'), slot: 'pictures' },
    ...(from === 'color'
      ? [{ text: ', ' }, { text: inSentence(TONE_WAY_LABELS[height.way].label), slot: 'height' }]
      : []),
    { text: ', with ' },
    { text: depthText(depth, steepness, from), slot: 'depth' },
    { text: ', ' },
    { text: repeats ? 'tiling' : 'not tiling', slot: 'from' },
    ...adjusted(adjust),
    { text: '.' },
  ];
}

function depthText(depth: number | null, steepness: number, from: DeriveSettings['from']): string {
  if (depth !== null) return `height scale ${percentText(depth)}`;
  return from === 'normal' ? 'measured height scale' : `slopes up to ${steepness}°`;
}
