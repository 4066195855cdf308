/**
 * Ways in which one colour lies on another: the separable modes of W3C Compositing and Blending Level 1, by their
 * formulas.
 */
export const BLEND_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
] as const;
export type BlendMode = (typeof BLEND_MODES)[number];

/** @param below, above values 0 to 1 of one channel @returns the blended value, before opacity counts */
export function blended(mode: BlendMode, below: number, above: number): number {
  switch (mode) {
    case 'normal':
      return above;
    case 'multiply':
      return below * above;
    case 'screen':
      return below + above - below * above;
    case 'overlay':
      return blended('hard-light', above, below);
    case 'darken':
      return Math.min(below, above);
    case 'lighten':
      return Math.max(below, above);
    case 'color-dodge':
      if (below === 0) return 0;
      return above === 1 ? 1 : Math.min(1, below / (1 - above));
    case 'color-burn':
      if (below === 1) return 1;
      return above === 0 ? 0 : 1 - Math.min(1, (1 - below) / above);
    case 'hard-light':
      return above <= 0.5 ? below * 2 * above : blended('screen', below, 2 * above - 1);
    case 'soft-light': {
      if (above <= 0.5) return below - (1 - 2 * above) * below * (1 - below);
      const soft = below <= 0.25 ? ((16 * below - 12) * below + 4) * below : Math.sqrt(below);
      return below + (2 * above - 1) * (soft - below);
    }
    case 'difference':
      return Math.abs(below - above);
    case 'exclusion':
      return below + above - 2 * below * above;
  }
}

/** What is done to a colour before it is blended. */
export interface ColorChange {
  /** What each channel is multiplied by. */
  tint: readonly [number, number, number];
  /** About the middle: 1 leaves it, 0 makes it grey. */
  contrast: number;
  /** About its own grey (luma of Rec. 709): 1 leaves it, 0 takes all colour away. */
  saturation: number;
}

export const UNCHANGED: ColorChange = { tint: [1, 1, 1], contrast: 1, saturation: 1 };

/** Whether a change leaves every colour as it is, but for those beyond 0 to 1. */
export const leavesColors = ({ tint, contrast, saturation }: ColorChange): boolean =>
  contrast === 1 && saturation === 1 && tint[0] === 1 && tint[1] === 1 && tint[2] === 1;

/** Changes a colour in place. @param color three values 0 to 1, as stored for the eye */
export function changeColor(color: Float64Array, { tint, contrast, saturation }: ColorChange): void {
  const grey = 0.2126 * color[0]! + 0.7152 * color[1]! + 0.0722 * color[2]!;
  for (let k = 0; k < 3; k++) {
    const saturated = grey + (color[k]! - grey) * saturation;
    color[k] = Math.max(0, Math.min(1, ((saturated - 0.5) * contrast + 0.5) * tint[k]!));
  }
}
