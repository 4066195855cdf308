import type { DeriveSource, SlopeOperator, ToneWay } from '@zographos/core/derive';
import type { Label, Labels } from '../labels.ts';

/** What maps are derived from. */
export const DERIVE_SOURCE_LABELS: Readonly<Record<DeriveSource, Label & { phrase: string }>> = {
  color: { label: 'Colour image', phrase: 'the colour' },
  height: { label: 'Height map', phrase: 'the height' },
  normal: { label: 'Normal map', phrase: 'the normals' },
};

/** How tone becomes height. */
export const TONE_WAY_LABELS: Labels<ToneWay> = {
  'light-high': { label: 'Light is high' },
  'dark-high': { label: 'Dark is high' },
  'by-detail-size': { label: 'Per detail size', hint: 'light or dark is high for each size of detail, as suggested' },
};

/** By which filter slopes are found. */
export const SLOPE_OPERATOR_LABELS: Labels<SlopeOperator> = {
  Scharr: { label: 'Scharr' },
  Sobel: { label: 'Sobel' },
};
