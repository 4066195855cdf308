import type { NormalSpace } from '../../image/convention.ts';
import { DirectionEncoding } from './directionEncoding.ts';
import type { MapBaker } from './mapBaker.ts';

/** The source's normals, in the receiver's MikkTSpace frame or in object space. */
export function normalMap(settings: NormalSpace): MapBaker {
  const encoding = new DirectionEncoding(settings);
  /** Those of the block's texels, where they have been found together. */
  let means: Float32Array | null = null;
  return {
    channels: 3,
    begin(surface) {
      means = settings.space === 'tangent' ? surface.meanNormals() : null;
    },
    texel(surface, from, to, out) {
      const done = means
        ? encoding.stored(means, surface.samples.texels[from]!, out)
        : encoding.mean(surface, from, to, surface.shading, out);
      if (!done) encoding.own(surface, from, out);
    },
    missed: (surface, sample, out) => encoding.own(surface, sample, out),
  };
}
