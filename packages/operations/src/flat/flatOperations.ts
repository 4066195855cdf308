import type { MapKind } from '@zographos/core/image';
import type { Operation, SentencePart } from '../operation.ts';
import { deriveSettings, type DeriveSettings } from '../derive/settings.ts';
import { fieldSettings, type FieldSettings } from '../field/settings.ts';
import { seamlessSettings, type SeamlessSettings } from '../seamless/settings.ts';

/** A running Node process with its libraries. */
const BASE_BYTES = 220e6;

const sizeText = ({ width, height }: { width: number; height: number }): string =>
  width === height ? `${width} px` : `${width} × ${height} px`;

const listOf = (names: readonly string[]): string =>
  names.length > 4 ? `${names.length} pictures` : names.join(', ') || 'nothing yet';

const adjusted = (adjust: Partial<Record<MapKind, readonly unknown[]>>): SentencePart[] => {
  const kinds = Object.entries(adjust).filter(([, steps]) => steps.length > 0);
  if (kinds.length === 0) return [];
  return [{ text: ', with ' }, { text: `${kinds.map(([kind]) => kind).join(', ')} adjusted`, slot: 'adjust' }];
};

/** A tile that repeats, of a picture or of all maps of a set. */
export const seamlessOperation: Operation<SeamlessSettings> = {
  kind: 'seamless',
  version: 1,
  settings: seamlessSettings,
  outputs: ({ pictures }) => pictures.map(({ kind }) => kind),
  goesByName: () => false,
  // The pictures, the maps framed and finished, each with up to four channels of floats.
  estimate: ({ size, pictures, way }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * pictures.length * 16 * (way === 'patches' ? 4 : 3.5),
  }),
  sentence(settings, { pictures = [] }) {
    const { ends, way, patches, even, size, spots, corners, adjust } = settings;
    const isWhole = corners.flat().every((value, i) => value === [0, 0, 1, 0, 1, 1, 0, 1][i]);
    const isEven = even.light > 0 || even.color > 0;
    return [
      { text: 'Make a tile of ' },
      { text: listOf(pictures), slot: 'pictures' },
      { text: ', ' },
      { text: isWhole ? 'whole' : 'framed', slot: 'frame' },
      { text: ' and ' },
      { text: isEven ? 'evened out' : 'lit as it is', slot: 'even' },
      { text: ', ' },
      ...(way === 'patches'
        ? [{ text: `put together from patches of ${percent(patches.patch)}`, slot: 'way' }]
        : [
            { text: endsText(ends.across), slot: 'way' },
            { text: ' across and ' },
            { text: endsText(ends.up), slot: 'way' },
            { text: ' up' },
          ]),
      { text: ', with ' },
      {
        text:
          spots.length === 0 ? 'no spot painted out' : `${spots.length} spot${spots.length > 1 ? 's' : ''} painted out`,
        slot: 'spots',
      },
      ...adjusted(adjust),
      { text: ', at ' },
      { text: sizeText(size), slot: 'size' },
      { text: '.' },
    ];
  },
};

const percent = (share: number): string => `${Math.round(share * 1000) / 10} %`;

function endsText({ method, width }: SeamlessSettings['ends']['across']): string {
  switch (method) {
    case 'none':
      return 'left as it is';
    case 'band':
      return `blended over ${percent(width)}`;
    case 'cut':
      return `cut within ${percent(width)}`;
    case 'preserve':
      return `blended with its contrast over ${percent(width)}`;
    case 'mirror':
      return 'mirrored';
  }
}

/** Maps of a material from one picture. */
export const deriveOperation: Operation<DeriveSettings> = {
  kind: 'derive',
  version: 1,
  settings: deriveSettings,
  outputs: ({ maps }) => maps,
  goesByName: () => false,
  // Of the picture's size, which only the run knows: what 4096 px need.
  estimate: () => ({ rays: 0, memoryBytes: BASE_BYTES + 4096 ** 2 * 4 * 24 }),
  sentence({ maps, from, repeats, height, depth, adjust }, { pictures = [] }) {
    const source = { color: 'the tones', height: 'the height', normal: 'the slopes' }[from];
    return [
      { text: 'Derive ' },
      { text: maps.join(', '), slot: 'maps' },
      { text: ' from ' },
      { text: source, slot: 'from' },
      { text: ' of ' },
      { text: listOf(pictures), slot: 'pictures' },
      ...(from === 'color' ? [{ text: ', where ' }, { text: height.way, slot: 'height' }] : []),
      { text: ', ' },
      { text: depth === null ? 'as deep as usual' : `${percent(depth)} of its width deep`, slot: 'depth' },
      { text: ', ' },
      { text: repeats ? 'repeating' : 'not repeating', slot: 'from' },
      ...adjusted(adjust),
      { text: '.' },
    ];
  },
};

/** Maps of a procedural field. */
export const fieldOperation: Operation<FieldSettings> = {
  kind: 'field',
  version: 1,
  settings: fieldSettings,
  outputs: ({ maps }) => maps.map(({ kind }) => kind),
  goesByName: () => false,
  estimate: ({ size, maps }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + size.width * size.height * (8 + maps.length * 20),
  }),
  sentence({ layers, wrap, samples, size, maps, adjust }) {
    const kinds = layers.length > 3 ? `${layers.length} layers` : layers.map(({ kind }) => kind).join(' with ');
    const wraps = {
      none: 'laid flat',
      cylinder: 'round a cylinder',
      torus: 'round a torus',
      'flat-torus': 'over the flat torus',
    };
    return [
      { text: 'Draw ' },
      { text: maps.map(({ kind }) => kind).join(', '), slot: 'maps' },
      { text: ' of ' },
      { text: kinds, slot: 'layers' },
      { text: ', ' },
      { text: wraps[wrap], slot: 'wrap' },
      ...adjusted(adjust),
      { text: ', at ' },
      { text: sizeText(size), slot: 'size' },
      { text: ' with ' },
      { text: `${samples} × ${samples}`, slot: 'size' },
      { text: ' samples.' },
    ];
  },
};
