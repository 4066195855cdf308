import type { EndMethod } from '@zographos/core/seamless';
import type { Labels } from '../labels.ts';

/** How a tile is made of a picture. */
export const SEAMLESS_WAYS = ['ends', 'patches', 'wang'] as const;
export const SEAMLESS_WAY_LABELS: Labels<(typeof SEAMLESS_WAYS)[number]> = {
  ends: { label: 'Join opposite edges' },
  patches: { label: 'Synthesise from patches' },
  wang: { label: 'Wang tiles', hint: 'sixteen tiles that match in any order, so that nothing repeats' },
};

/** How two opposite edges are joined. */
export const END_METHOD_LABELS: Labels<EndMethod> = {
  none: { label: 'Not joined' },
  band: { label: 'Blend' },
  cut: { label: 'Minimum-error cut', hint: 'along the least visible path' },
  preserve: { label: 'Contrast-preserving blend' },
  mirror: { label: 'Mirror' },
};
