import { FIELD_LABELS, WRAP_LABELS } from './options.ts';
import { phraseOfKinds } from '@zographos/core/image';
import { defineOperation, type SentencePart } from '../operation.ts';
import { flatReport } from '../flat/report.ts';
import { adjusted } from '../flat/sentence.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { inSentence, sizeText } from '../wording.ts';
import { fieldSettings, type FieldSettings } from './settings.ts';

/** Maps of a procedural texture. */
export const fieldOperation = defineOperation({
  kind: 'field',
  version: 2,
  ticket: 'flat',
  settings: fieldSettings,
  report: flatReport,
  outputs: ({ maps }) => maps.map(({ kind }) => kind),
  estimate: ({ size, maps }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * (8 + maps.length * 20),
  }),
  sentence,
  load: () => import('#run/field'),
});

function sentence({ layers, wrap, samples, size, maps, adjust }: FieldSettings): SentencePart[] {
  const kinds = layers.map(({ kind }) => inSentence(FIELD_LABELS[kind].label));
  return [
    { text: 'Draw ' },
    { text: phraseOfKinds(maps.map(({ kind }) => kind)), slot: 'maps' },
    { text: ' of ' },
    { text: kinds.length > 3 ? `${kinds.length} layers` : kinds.join(' with '), slot: 'layers' },
    { text: ', ' },
    { text: WRAP_LABELS[wrap].phrase, slot: 'wrap' },
    ...adjusted(adjust),
    { text: ', at ' },
    { text: sizeText(size), slot: 'size' },
    { text: ' with ' },
    { text: `${samples} × ${samples}`, slot: 'size' },
    { text: ' samples.' },
  ];
}
