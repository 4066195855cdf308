import { meanOverHits, type MapBaker } from './mapBaker.ts';

/**
 * Mean curvature of the source, interpolated where each sample has met it.
 * @param curvature a value for each vertex of the scene
 */
export function curvatureMap(curvature: Float32Array): MapBaker {
  return {
    channels: 1,
    texel(surface, from, to, out) {
      const { hits, scene } = surface;
      meanOverHits(surface, from, to, out, 1, (s) => {
        const corner = hits.triangles[s]! * 3;
        const wb = hits.weights[s * 2]!;
        const wc = hits.weights[s * 2 + 1]!;
        return (
          curvature[scene.indices[corner]!]! * (1 - wb - wc) +
          curvature[scene.indices[corner + 1]!]! * wb +
          curvature[scene.indices[corner + 2]!]! * wc
        );
      });
    },
    missed: (_surface, _sample, out) => out.fill(0, 0, 1),
  };
}
