/** What a light bake has measured. */
export interface LightReport {
  samples: number;
  paths: number;
  rays: number;
  texels: number;
  /** Texels that lie in two triangles at once, of which one was taken. */
  overlapping: number;
  /** Standard error of the combined light of a texel over the mean of all: root of the mean square, 0 for none. */
  noise: number;
  mean: readonly [number, number, number];
  seconds: { build: number; trace: number; total: number };
}
