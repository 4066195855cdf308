import type { Labels } from '../labels.ts';

/** How image sets are arranged in an atlas. */
export const ARRANGEMENT_LABELS: Labels<'rows' | 'shelves' | 'trims' | 'own'> = {
  rows: { label: 'Grid, equal squares' },
  shelves: { label: 'Packed, any sizes' },
  trims: {
    label: 'Trim sheet, full-width strips',
    hint: 'each set as often across as fits; the sheet repeats horizontally',
  },
  own: { label: 'Placed by hand' },
};
