import type { MapBaker } from './mapBaker.ts';

/**
 * A colour for each piece of the source. A texel gets the colour that most of its samples have met (of equals the
 * lower number): colours are never blended.
 * @param ids the piece that each triangle of the scene belongs to
 * @param colors r, g, b for each piece
 */
export function idMap(ids: Uint32Array, colors: Float32Array): MapBaker {
  const counts = new Map<number, number>();
  return {
    channels: 3,
    texel({ hits }, from, to, out) {
      counts.clear();
      let best = -1;
      let most = 0;
      for (let s = from; s < to; s++) {
        const triangle = hits.triangles[s]!;
        if (triangle < 0) continue;
        const id = ids[triangle]!;
        const count = (counts.get(id) ?? 0) + 1;
        counts.set(id, count);
        if (count > most || (count === most && id < best)) {
          most = count;
          best = id;
        }
      }
      for (let c = 0; c < 3; c++) out[c] = colors[best * 3 + c]!;
    },
    missed: (_surface, _sample, out) => out.fill(0, 0, 3),
  };
}
