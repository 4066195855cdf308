import type { MaterialChannel } from '../../mesh/material.ts';
import { isColor } from '../../image/kindMeaning.ts';
import type { MaterialReader } from '../source/sourceMaterials.ts';
import type { MapBaker } from './mapBaker.ts';

/** One channel of the source's materials, without any light in it; what met nothing is the plain material. */
export function materialMap(channel: MaterialChannel, reader: MaterialReader, missing: readonly number[]): MapBaker {
  const channels = isColor(channel) ? 3 : 1;
  const value = new Float64Array(3);
  return {
    channels,
    texel({ hits, samples }, from, to, out) {
      out.fill(0, 0, channels);
      let count = 0;
      for (let s = from; s < to; s++) {
        const triangle = hits.triangles[s]!;
        if (triangle < 0) continue;
        const logWidth = reader.logWidths[samples.triangles[s]!]!;
        reader.read(channel, triangle, hits.weights[s * 2]!, hits.weights[s * 2 + 1]!, logWidth, value);
        for (let c = 0; c < channels; c++) out[c]! += value[c]!;
        count++;
      }
      for (let c = 0; c < channels; c++) out[c]! /= count;
    },
    missed(_surface, _sample, out) {
      for (let c = 0; c < channels; c++) out[c] = missing[c]!;
    },
  };
}
