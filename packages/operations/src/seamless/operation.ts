import { inSentence, namesText, percentText, sizeText } from '../wording.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { flatReport } from '../flat/report.ts';
import { adjusted } from '../flat/sentence.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { END_METHOD_LABELS } from './options.ts';
import { seamlessSettings, type SeamlessSettings } from './settings.ts';

/** A tile that repeats, of an image or of all maps of a set. */
export const seamlessOperation = defineOperation({
  kind: 'seamless',
  version: 1,
  ticket: 'flat',
  settings: seamlessSettings,
  report: flatReport,
  outputs: ({ pictures }) => pictures.map(({ kind }) => kind),
  // The pictures, the maps framed and finished, each with up to four channels of floats.
  estimate: ({ size, pictures, way }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * pictures.length * 16 * (way === 'patches' ? 4 : 3.5),
  }),
  sentence,
  load: () => import('#run/seamless'),
});

const WHOLE = [0, 0, 1, 0, 1, 1, 0, 1];

function sentence(settings: SeamlessSettings, { pictures = [] }: SentenceNames): SentencePart[] {
  const { ends, way, patches, even, size, spots, corners, adjust } = settings;
  const isWhole = corners.flat().every((value, i) => value === WHOLE[i]);
  const isEven = even.light > 0 || even.color > 0;
  return [
    { text: 'Make a tile of ' },
    { text: namesText(pictures, 'image'), slot: 'pictures' },
    { text: ', ' },
    { text: isWhole ? 'whole' : 'framed', slot: 'frame' },
    { text: ', with lighting ' },
    { text: isEven ? 'evened out' : 'unchanged', slot: 'even' },
    { text: ', ' },
    ...(way === 'patches'
      ? [{ text: `synthesised from patches of ${percentText(patches.patch)}`, slot: 'way' }]
      : [
          { text: endsText(ends.across), slot: 'way' },
          { text: ' horizontally and ' },
          { text: endsText(ends.up), slot: 'way' },
          { text: ' vertically' },
        ]),
    { text: ', with ' },
    {
      text: spots.length === 0 ? 'no spots removed' : `${spots.length} spot${spots.length > 1 ? 's' : ''} removed`,
      slot: 'spots',
    },
    ...adjusted(adjust),
    { text: ', at ' },
    { text: sizeText(size), slot: 'size' },
    { text: '.' },
  ];
}

function endsText({ method, width }: SeamlessSettings['ends']['across']): string {
  const label = inSentence(END_METHOD_LABELS[method].label);
  if (method === 'none') return 'not joined';
  return method === 'mirror' ? 'mirrored' : `joined by ${label} over ${percentText(width)}`;
}
