import type { Labels } from '../labels.ts';

/** How image sets are arranged in an atlas. */
export const ARRANGEMENT_LABELS: Labels<'rows' | 'shelves' | 'own'> = {
  rows: { label: 'Grid, equal squares' },
  shelves: { label: 'Packed, any sizes' },
  own: { label: 'Placed by hand' },
};
