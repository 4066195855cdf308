import { meanOverHits, type MapBaker } from './mapBaker.ts';

/** Where on the source each texel lies: x, y, z in object space and mesh units. */
export function positionMap(): MapBaker {
  return {
    channels: 3,
    texel(surface, from, to, out) {
      meanOverHits(surface, from, to, out, 3, (s, axis) => surface.placeOf(s, axis));
    },
    missed: (surface, sample, out) => surface.ofReceiver(surface.receiver.positions, sample, out),
  };
}
