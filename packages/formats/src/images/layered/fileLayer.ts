import type { LayerBlend } from '@zographos/core/layers';

/** A layer of a file that a paint program wrote. */
export interface FileLayer {
  /** With the groups that it is in: “Signs / Number”. */
  name: string;
  visible: boolean;
  opacity: number;
  blend: LayerBlend;
  /** The layer as large as the whole file, as PNG with transparency. */
  png: Uint8Array;
}

export interface LayeredFile {
  width: number;
  height: number;
  /** The lowest first. */
  layers: FileLayer[];
  /** What of the file is not taken over, one sentence each. */
  notes: string[];
}

/** Refuses what is too large. @throws limit/pixels, limit/objects */
export type SizeCheck = (width: number, height: number, layers: number) => void;

/** The W3C name of a blend mode, or null for one that is not known here. @param name in words, of any spelling */
export function blendNamed(name: string): LayerBlend | null {
  const word = name.toLowerCase().replaceAll(' ', '-');
  if (word === 'src-over') return 'normal';
  return (BLENDS as readonly string[]).includes(word) ? (word as LayerBlend) : null;
}

const BLENDS: readonly LayerBlend[] = [
  ...(['normal', 'multiply', 'screen', 'overlay', 'darken', 'lighten', 'color-dodge', 'color-burn'] as const),
  ...(['hard-light', 'soft-light', 'difference', 'exclusion', 'hue', 'saturation', 'color', 'luminosity'] as const),
];
