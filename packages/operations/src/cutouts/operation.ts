import { phraseOfKinds, type MapKind } from '@zographos/core/image';
import { flatReport } from '../flat/report.ts';
import { adjusted } from '../flat/sentence.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { namesText, percentText, sizeText } from '../wording.ts';
import { cutoutsSettings, type CutoutsSettings } from './settings.ts';

/** Cut-outs with their opacity, packed into an atlas. */
export const cutoutsOperation = defineOperation({
  kind: 'cutouts',
  version: 1,
  ticket: 'flat',
  settings: cutoutsSettings,
  report: flatReport,
  outputs: (settings) => kindsOfCutouts(settings),
  estimate: ({ size, pictures }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * (60 + 40 * pictures.length),
  }),
  sentence,
  load: () => import('#run/cutouts'),
});

/** The maps that a ticket makes: those of its images, and the opacity. */
export function kindsOfCutouts({ pictures }: Pick<CutoutsSettings, 'pictures'>): MapKind[] {
  return [...pictures.map(({ kind }) => kind).filter((kind) => kind !== 'opacity'), 'opacity'];
}

function sentence(settings: CutoutsSettings, { pictures = [] }: SentenceNames): SentencePart[] {
  const { threshold, gutter, size, adjust } = settings;
  return [
    { text: 'Cut out of ' },
    { text: namesText(pictures, 'image'), slot: 'pictures' },
    { text: ' what is ' },
    { text: `more than ${percentText(threshold)} opaque`, slot: 'mask' },
    { text: ', and pack its ' },
    { text: phraseOfKinds(kindsOfCutouts(settings)), slot: 'pictures' },
    { text: ' with ' },
    { text: `${gutter} px around each`, slot: 'size' },
    ...adjusted(adjust),
    { text: ', at ' },
    { text: sizeText(size), slot: 'size' },
    { text: '.' },
  ];
}
