import type { Size } from '@zographos/core/math';
import { keptOf } from '@zographos/core/seamless';
import { count, inSentence, namesText, percentText, sizeText } from '../wording.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { flatReport } from '../flat/report.ts';
import { adjusted } from '../flat/sentence.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { END_METHOD_LABELS } from './options.ts';
import { seamlessSettings, type SeamlessSettings } from './settings.ts';

/** A tile that repeats, of an image or of all maps of a set. */
export const seamlessOperation = defineOperation({
  kind: 'seamless',
  version: 2,
  ticket: 'flat',
  settings: seamlessSettings,
  report: flatReport,
  outputs: ({ pictures }) => pictures.map(({ kind }) => kind),
  // The pictures, the maps framed and finished, each with up to four channels of floats.
  estimate: ({ size, pictures, way }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * pictures.length * 16 * (way === 'ends' ? 3.5 : 4),
  }),
  sentence,
  load: () => import('#run/seamless'),
});

const WHOLE = [0, 0, 1, 0, 1, 1, 0, 1];

function sentence(settings: SeamlessSettings, { pictures = [], pictureSizes }: SentenceNames): SentencePart[] {
  const { ends, way, patches, wang, even, size, spots, corners, adjust } = settings;
  const isWhole = corners.flat().every((value, i) => value === WHOLE[i]);
  const isEven = even.light > 0 || even.color > 0 || even.shadows > 0 || even.highlights > 0;
  return [
    { text: 'Make a tile of ' },
    { text: namesText(pictures, 'image'), slot: 'pictures' },
    { text: ', ' },
    { text: isWhole ? 'whole' : 'framed', slot: 'frame' },
    { text: ', with lighting ' },
    { text: isEven ? 'evened out' : 'unchanged', slot: 'even' },
    { text: ', ' },
    ...(way !== 'ends'
      ? [
          {
            text:
              way === 'patches'
                ? `synthesised from patches of ${percentText(patches.patch)}`
                : `as 4 × 4 Wang tiles of ${percentText(wang.tile)}`,
            slot: 'way',
          },
        ]
      : [
          { text: endsText(ends.across), slot: 'way' },
          { text: ' horizontally and ' },
          { text: endsText(ends.up), slot: 'way' },
          { text: ' vertically' },
        ]),
    ...(way === 'wang' ? [] : spotsText(spots.length)),
    ...adjusted(adjust),
    { text: ', at ' },
    { text: sizeText(size), slot: 'size' },
    { text: pictureSizes?.[0] ? `, keeping ${keptText(pictureSizes[0], settings)}.` : '.' },
  ];
}

const spotsText = (spots: number): SentencePart[] => [
  { text: ', with ' },
  { text: spots === 0 ? 'no spots removed' : `${count(spots, 'spot')} removed`, slot: 'spots' },
];

function endsText({ method, width }: SeamlessSettings['ends']['across']): string {
  const label = inSentence(END_METHOD_LABELS[method].label);
  if (method === 'none') return 'not joined';
  return method === 'mirror' ? 'mirrored' : `joined by ${label} over ${percentText(width)}`;
}

/**
 * What of its picture a tile keeps, and how it is scaled.
 * @example keptText({ width: 1500, height: 1000 }, settings) // '87.5 % of the width and height, at the resolution of the image'
 */
export function keptText(picture: Size, settings: SeamlessSettings): string {
  const { length, scale } = keptOf(picture, settings, settings.size);
  const kept =
    length.across === length.up
      ? length.across === 1
        ? 'all of it'
        : `${percentText(length.across)} of the width and height`
      : `${percentText(length.across)} of the width and ${percentText(length.up)} of the height`;
  return `${kept}, ${scaleText(scale.across, scale.up)}`;
}

/** Rounding to whole texels is no change of scale. */
const SAME_SCALE = 0.005;

function scaleText(across: number, up: number): string {
  const isSame = (a: number, b: number): boolean => Math.abs(a / b - 1) < SAME_SCALE;
  if (!isSame(across, up)) {
    return `scaled to ${percentText(across)} horizontally and ${percentText(up)} vertically, so its proportions change`;
  }
  return isSame(across, 1) ? 'at the resolution of the image' : `scaled to ${percentText(across)}`;
}
