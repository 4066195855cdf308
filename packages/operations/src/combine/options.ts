import type { MatchWay } from '@zographos/core/combine';
import type { Labels } from '../labels.ts';

/** How an image takes the tones of another. */
export const MATCH_LABELS: Labels<MatchWay> = {
  mean: { label: 'Mean and contrast' },
  histogram: { label: 'Whole histogram' },
};

/** Where a layer is seen. */
export const COMBINE_MASKS = ['everywhere', 'image', 'height'] as const;
export const COMBINE_MASK_LABELS: Labels<(typeof COMBINE_MASKS)[number]> = {
  everywhere: { label: 'Everywhere' },
  image: { label: 'By mask', hint: 'where an image is white' },
  height: { label: 'By height', hint: 'where it is higher than what lies below' },
};
