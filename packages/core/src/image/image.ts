/** What the values of a map mean. */
export type MapKind =
  | 'normal'
  | 'ao'
  | 'height'
  | 'basecolor'
  | 'roughness'
  | 'metallic'
  | 'emission'
  | 'opacity'
  | 'id'
  | 'mask'
  | 'image';

/** How stored numbers relate to light: `srgb` for colours meant for the eye, `linear` for data and radiance. */
export type ColorSpace = 'srgb' | 'linear';

/** A picture as interleaved float samples, row 0 at the top, always linear inside. */
export interface Image {
  width: number;
  height: number;
  channels: number;
  data: Float32Array;
}

/** What became of each texel of a baked map; the order matters: reducing a map keeps the largest. */
export const TexelState = { background: 0, padding: 1, covered: 2, missed: 3 } as const;
