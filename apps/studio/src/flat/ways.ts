import type { SeamlessSettings } from '@zographos/operations';

/** Ways to make a tile that are compared side by side: the same on both axes, or from patches. */
export const COMPARED = ['band', 'cut', 'preserve', 'mirror', 'patches'] as const;
export type Compared = (typeof COMPARED)[number];

/** The settings with another way, all else as it is. */
export function withMethod(settings: SeamlessSettings, method: Compared): SeamlessSettings {
  if (method === 'patches') return { ...settings, way: 'patches' };
  const { across, up } = settings.ends;
  const softness = method === 'cut' ? 0.08 : 1;
  const ends = { across: { ...across, method, softness }, up: { ...up, method, softness } };
  return { ...settings, way: 'ends', ends };
}
