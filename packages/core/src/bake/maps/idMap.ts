import type { Surface } from '../source/surface.ts';
import type { MapBaker } from './mapBaker.ts';

/** The pieces that an ID map tells apart. */
export interface SourcePieces {
  of: 'triangle' | 'vertex';
  pieces: Uint32Array;
  /** Linear r, g, b of each piece. */
  colors: Float32Array;
}

/**
 * A colour for each piece of the source. A texel gets the colour that most of its samples have met (of equals the
 * lower number): colours are never blended.
 * @param pieces the piece that each triangle of the scene belongs to, or each vertex: then the nearest one counts
 * @param colors r, g, b for each piece
 */
export function idMap({ pieces, colors, of }: SourcePieces): MapBaker {
  const counts = new Map<number, number>();
  const pieceAt = ({ hits, scene }: Surface, s: number, triangle: number): number => {
    if (of === 'triangle') return pieces[triangle]!;
    const b = hits.weights[s * 2]!;
    const c = hits.weights[s * 2 + 1]!;
    const a = 1 - b - c;
    return pieces[scene.indices[triangle * 3 + (a >= b && a >= c ? 0 : b >= c ? 1 : 2)]!]!;
  };
  return {
    channels: 3,
    texel(surface, from, to, out) {
      counts.clear();
      let best = -1;
      let most = 0;
      for (let s = from; s < to; s++) {
        const triangle = surface.hits.triangles[s]!;
        if (triangle < 0) continue;
        const id = pieceAt(surface, s, triangle);
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
