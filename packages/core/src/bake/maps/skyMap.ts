import { sampleCapacity } from '../coverage/coverage.ts';
import { HemisphereRays } from '../rays/hemisphereRays.ts';
import type { BakeSettings } from '../settings.ts';
import { FAN_BATCH } from '../source/surface.ts';
import { meanOverHits, type MapBaker } from './mapBaker.ts';

/**
 * How much of the sky each place sees, times how level it is: the view factor to a cone about the direction that is up,
 * as a share of what an open level place sees. Cosine-weighted rays are counted that lie within the cone and meet
 * nothing; a level place has sin²(half angle) of all there (Howell, Mengüç, Daun and Siegel, "Thermal Radiation Heat
 * Transfer", 7th edition, 2021, chapter 4). Over the whole sky a slope β that nothing blocks has (1 + cos β) / 2.
 */
export function skyMap(settings: BakeSettings, extent: number): MapBaker {
  const capacity = sampleCapacity(settings.samplesPerAxis);
  const seen = new Float32Array(capacity);
  const blocked = new Uint8Array(FAN_BATCH);
  const { rays: count, twoSided } = settings.occlusion;
  const { up, angle } = settings.sky;
  const [ux, uy, uz] = up;
  const radians = (angle * Math.PI) / 180;
  const least = Math.cos(radians);
  const share = 1 / (count * Math.sin(radians) ** 2);
  const fan = new HemisphereRays({
    ...{ rays: count, spread: 'cosine', distance: extent * 4, side: 'above' },
    seed: settings.seed ^ 0x2545f491,
  });
  return {
    channels: 1,
    begin(surface) {
      seen.fill(0, 0, surface.samples.count);
      const { owners } = fan;
      fan.send(surface, (rays) => {
        surface.occluded(owners, rays, blocked, twoSided ? 'accept' : 'ignore');
        const { directions } = rays;
        for (let r = 0; r < rays.count; r++) {
          if (blocked[r]) continue;
          const along = directions[r * 3]! * ux + directions[r * 3 + 1]! * uy + directions[r * 3 + 2]! * uz;
          if (along >= least) seen[owners[r]!]! += share;
        }
      });
    },
    texel: (surface, from, to, out) => meanOverHits(surface, from, to, out, 1, (s) => Math.min(1, seen[s]!)),
    missed: (_surface, _sample, out) => out.fill(1, 0, 1),
  };
}
