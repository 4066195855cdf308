import { meanOverHits, type MapBaker } from './mapBaker.ts';

/**
 * How far along a direction each place of the source lies, in mesh units from the origin.
 * @param direction unit vector in object space
 */
export function gradientMap([x, y, z]: readonly [number, number, number]): MapBaker {
  const place = new Float64Array(3);
  return {
    channels: 1,
    texel(surface, from, to, out) {
      meanOverHits(
        surface,
        from,
        to,
        out,
        1,
        (s) => surface.placeOf(s, 0) * x + surface.placeOf(s, 1) * y + surface.placeOf(s, 2) * z,
      );
    },
    missed(surface, sample, out) {
      surface.ofReceiver(surface.receiver.positions, sample, place);
      out[0] = place[0]! * x + place[1]! * y + place[2]! * z;
    },
  };
}
