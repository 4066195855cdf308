import { oklabToLinear } from './oklab.ts';

/** Turn of the hue from one piece to the next: the golden angle never comes back near where it was. */
const GOLDEN_TURN = Math.PI * (3 - Math.sqrt(5));
const TONES = [
  [0.72, 0.15],
  [0.5, 0.13],
  [0.86, 0.1],
] as const;

/**
 * Colours for pieces, far apart from each other and the same for the same number every time: hues by the golden
 * angle at three tones of OKLCH (Ottosson 2020), cut to what sRGB can show.
 * @returns linear r, g, b for each piece
 */
export function idColors(count: number): Float32Array {
  const colors = new Float32Array(count * 3);
  for (let i = 0; i < count; i++) {
    const [lightness, chroma] = TONES[i % TONES.length]!;
    const hue = i * GOLDEN_TURN + 0.5;
    const a = chroma * Math.cos(hue);
    const b = chroma * Math.sin(hue);
    const rgb = oklabToLinear([lightness, a, b]);
    rgb.forEach((value, c) => (colors[i * 3 + c] = Math.min(1, Math.max(0, value))));
  }
  return colors;
}
