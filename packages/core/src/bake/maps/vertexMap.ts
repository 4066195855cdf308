import type { Surface } from '../surface.ts';
import { meanOverHits, type MapBaker } from './mapBaker.ts';

/**
 * Values that lie on the source's vertices, interpolated where each sample has met it.
 * @param values `channels` numbers for each vertex of the scene
 * @param missing what a texel gets that met nothing
 */
export function vertexMap(values: Float32Array, channels: number, missing: number): MapBaker {
  const at = ({ scene, hits }: Surface, s: number, channel: number): number => {
    const corner = hits.triangles[s]! * 3;
    const wb = hits.weights[s * 2]!;
    const wc = hits.weights[s * 2 + 1]!;
    return (
      values[scene.indices[corner]! * channels + channel]! * (1 - wb - wc) +
      values[scene.indices[corner + 1]! * channels + channel]! * wb +
      values[scene.indices[corner + 2]! * channels + channel]! * wc
    );
  };
  return {
    channels,
    texel: (surface, from, to, out) =>
      meanOverHits(surface, from, to, out, channels, (s, channel) => at(surface, s, channel)),
    missed: (_surface, _sample, out) => out.fill(missing, 0, channels),
  };
}
