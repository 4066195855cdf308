import { meanOverHits, type MapBaker } from './mapBaker.ts';

/** Signed distance from the receiver to the source along the ray, in mesh units; above the receiver is positive. */
export function heightMap(): MapBaker {
  return {
    channels: 1,
    texel(surface, from, to, out) {
      const { starts, hits } = surface;
      meanOverHits(surface, from, to, out, 1, (s) => starts[s]! - hits.distances[s]!);
    },
    missed: (_surface, _sample, out) => out.fill(0, 0, 1),
  };
}
