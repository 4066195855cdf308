import { phraseOfKinds } from '@zographos/core/image';
import { flatReport } from '../flat/report.ts';
import { adjusted } from '../flat/sentence.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { count, namesText, sizeText } from '../wording.ts';
import { combineSettings, type CombineSettings } from './settings.ts';

/** Maps that are put together from images and channels. */
export const combineOperation = defineOperation({
  kind: 'combine',
  version: 1,
  ticket: 'flat',
  settings: combineSettings,
  report: flatReport,
  outputs: ({ maps }) => maps.map(({ kind }) => kind),
  estimate: ({ size, pictures }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * (80 + 16 * pictures.length),
  }),
  sentence,
  load: () => import('#run/combine'),
});

function sentence({ maps, repeats, size, adjust }: CombineSettings, { pictures = [] }: SentenceNames): SentencePart[] {
  const layers = maps.reduce((sum, map) => sum + map.layers.length, 0);
  return [
    { text: 'Combine ' },
    { text: phraseOfKinds(maps.map(({ kind }) => kind)), slot: 'maps' },
    { text: ' of ' },
    { text: namesText(pictures, 'image'), slot: 'pictures' },
    { text: ', in ' },
    { text: count(layers, 'layer'), slot: 'layers' },
    { text: ', ' },
    { text: repeats ? 'tiling' : 'not tiling', slot: 'size' },
    ...adjusted(adjust),
    { text: ', at ' },
    { text: sizeText(size), slot: 'size' },
    { text: '.' },
  ];
}
