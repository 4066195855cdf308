import type { SeamlessSettings } from '@zographos/operations';

/** How flat material is looked at. */
export type PreviewView = 'tile' | 'model' | 'methods';

/** Ways to make a tile that are compared side by side. */
export const COMPARED = ['band', 'cut', 'preserve', 'mirror', 'patches'] as const;
export type Compared = (typeof COMPARED)[number];

/** The axes on which ways are compared; on the others the tile stays as it is set. Patches are laid on both. */
export const COMPARED_AXES = ['both', 'across', 'up'] as const;
export type ComparedAxes = (typeof COMPARED_AXES)[number];

/** The settings with another way on some axes, all else as it is. */
export function withMethod(settings: SeamlessSettings, method: Compared, axes: ComparedAxes): SeamlessSettings {
  if (method === 'patches') return { ...settings, way: 'patches' };
  const { across, up } = settings.ends;
  const changed = { method, softness: method === 'cut' ? 0.08 : 1 };
  const ends = {
    across: axes === 'up' ? across : { ...across, ...changed },
    up: axes === 'across' ? up : { ...up, ...changed },
  };
  return { ...settings, way: 'ends', ends };
}
