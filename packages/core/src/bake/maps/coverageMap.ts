import type { MapBaker } from './mapBaker.ts';

/** 1 wherever the layout covers a texel, 0 elsewhere; never padded. */
export function coverageMap(): MapBaker {
  const covered = (out: Float64Array): void => {
    out[0] = 1;
  };
  return {
    channels: 1,
    texel: (_surface, _from, _to, out) => covered(out),
    missed: (_surface, _sample, out) => covered(out),
  };
}
