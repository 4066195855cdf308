import type { NormalSpace } from '../settings.ts';
import { DirectionEncoding } from './directionEncoding.ts';
import type { MapBaker } from './mapBaker.ts';

/** The source's normals, in the receiver's MikkTSpace frame or in object space. */
export function normalMap(settings: NormalSpace): MapBaker {
  const encoding = new DirectionEncoding(settings);
  return {
    channels: 3,
    texel(surface, from, to, out) {
      if (!encoding.mean(surface, from, to, surface.shading, out)) encoding.own(surface, from, out);
    },
    missed: (surface, sample, out) => encoding.own(surface, sample, out),
  };
}
