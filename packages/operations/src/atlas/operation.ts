import type { Operation } from '../operation.ts';
import { sheetSettings, type SheetSettings } from './settings.ts';

/** A running Node process with its libraries. */
const BASE_BYTES = 220e6;
/** Of one map at a time: floats, states, and what storing needs. */
const BYTES_PER_TEXEL = 40;

/**
 * Places whole image sets into one larger sheet: its result is a mesh whose UVs are moved by the same placement, and an
 * image set with every map of the sheet.
 */
export const sheetOperation: Operation<SheetSettings> = {
  kind: 'sheet',
  version: 1,
  settings: sheetSettings,
  outputs: () => [],
  goesByName: () => true,
  estimate: ({ size: { width, height } }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + 2 * width * height * BYTES_PER_TEXEL,
  }),

  sentence({ name, sets, size, arrangement, halvings, resample }) {
    const names = sets.length > 4 ? `${sets.length} image sets` : sets.map((set) => set.name).join(', ');
    return [
      { text: 'Place ' },
      { text: names || 'nothing yet', slot: 'sets' },
      { text: ' into one sheet ' },
      { text: name, slot: 'name' },
      { text: ' of ' },
      { text: size.width === size.height ? `${size.width} px` : `${size.width} × ${size.height} px`, slot: 'size' },
      { text: ', ' },
      {
        text: { rows: 'in rows', shelves: 'closely packed', own: 'by hand' }[
          typeof arrangement === 'string' ? arrangement : 'own'
        ],
        slot: 'arrangement',
      },
      { text: ', with ' },
      { text: halvings === null ? 'no gutter' : `gutters for ${halvings} halvings`, slot: 'halvings' },
      { text: ', ' },
      { text: resample ? 'resampled to fit' : 'each texel as it is', slot: 'resample' },
      { text: '.' },
    ];
  },
};
