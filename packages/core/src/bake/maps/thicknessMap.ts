import { sampleCapacity } from '../coverage/coverage.ts';
import { HemisphereRays } from '../rays/hemisphereRays.ts';
import type { BakeSettings } from '../settings.ts';
import { meanOverHits, type MapBaker } from './mapBaker.ts';

/**
 * How thick the source is below each place: the mean length of cosine-weighted rays into the body until they leave
 * it, in mesh units. Rays that never leave (the source is open) count with their full length.
 */
export function thicknessMap(settings: BakeSettings, extent: number): MapBaker {
  const depth = new Float32Array(sampleCapacity(settings.samplesPerAxis));
  const { rays: count, spread } = settings.occlusion;
  const distance = Math.min(settings.occlusion.distance, extent);
  // Other directions than those of the occlusion rays, which go the other way.
  const fan = new HemisphereRays({ rays: count, spread, distance, side: 'below', seed: settings.seed ^ 0x51ed270b });
  return {
    channels: 1,
    begin(surface) {
      depth.fill(0, 0, surface.samples.count);
      const { owners } = fan;
      fan.send(surface, (rays, hits) => {
        surface.castFor(owners, rays, hits, 'accept');
        for (let r = 0; r < rays.count; r++) {
          depth[owners[r]!]! += (hits.triangles[r]! < 0 ? distance : hits.distances[r]!) / count;
        }
      });
    },
    texel: (surface, from, to, out) => meanOverHits(surface, from, to, out, 1, (s) => depth[s]!),
    missed: (_surface, _sample, out) => out.fill(0, 0, 1),
  };
}
