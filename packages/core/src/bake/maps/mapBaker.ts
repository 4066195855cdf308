import type { Surface } from '../source/surface.ts';

/** Makes the texels of one map from what a block's samples have met. One belongs to one thread. */
export interface MapBaker {
  /** Values in each texel. */
  channels: number;
  /** Told once for each block, before its texels, for what is better done for all samples together. */
  begin?(surface: Surface): void;
  /**
   * The value of one texel.
   * @param from, to the texel's samples; at least one of them has met something
   */
  texel(surface: Surface, from: number, to: number, out: Float64Array): void;
  /** The value of a texel none of whose samples has met anything; `sample` is its first. */
  missed(surface: Surface, sample: number, out: Float64Array): void;
}

/** Averages over those of a texel's samples that have met something. */
export function meanOverHits(
  { hits }: Surface,
  from: number,
  to: number,
  out: Float64Array,
  channels: number,
  valueOf: (sample: number, channel: number) => number,
): void {
  for (let c = 0; c < channels; c++) out[c] = 0;
  let count = 0;
  for (let s = from; s < to; s++) {
    if (hits.triangles[s]! < 0) continue;
    for (let c = 0; c < channels; c++) out[c]! += valueOf(s, c);
    count++;
  }
  for (let c = 0; c < channels; c++) out[c]! /= count;
}
