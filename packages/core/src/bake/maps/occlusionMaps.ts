import type { BackFaces } from '../../trace/rays.ts';
import { sampleCapacity } from '../coverage/coverage.ts';
import { HemisphereRays } from '../rays/hemisphereRays.ts';
import type { BakeSettings } from '../settings.ts';
import type { BakeStatistics } from '../statistics.ts';
import { FAN_BATCH, type Surface } from '../source/surface.ts';
import { DirectionEncoding } from './directionEncoding.ts';
import { meanOverHits, type MapBaker } from './mapBaker.ts';

/** What the rays of each sample's fan have found: shared by occlusion and bent normals. */
class Openness {
  /** How open each sample is: 1 where nothing blocks, 0 where everything does. */
  readonly open: Float32Array;
  /** Mean direction of what is open, x, y, z for each sample; as long as it is decided. */
  readonly bent: Float32Array;
  private readonly fan: HemisphereRays;
  private readonly settings: BakeSettings['occlusion'];
  private readonly blocked: Uint8Array;
  /** How much more open the first half of each sample's rays is than the second. */
  private readonly difference: Float32Array;
  private readonly noise: BakeStatistics['noise'];
  private readonly backFaces: BackFaces;
  private done: { surface: Surface; block: number } | null = null;

  constructor(settings: BakeSettings, extent: number, noise: BakeStatistics['noise']) {
    const capacity = sampleCapacity(settings.samplesPerAxis);
    this.noise = noise;
    this.difference = new Float32Array(capacity);
    this.open = new Float32Array(capacity);
    this.bent = new Float32Array(capacity * 3);
    this.settings = settings.occlusion;
    const { rays, spread, distance } = settings.occlusion;
    this.fan = new HemisphereRays({
      rays,
      spread,
      distance: Math.min(distance, extent * 4),
      side: 'above',
      seed: settings.seed,
    });
    this.blocked = new Uint8Array(FAN_BATCH);
    this.backFaces = settings.occlusion.twoSided ? 'accept' : 'ignore';
  }

  /** Casts the fans of a block, once for however many maps ask. */
  look(surface: Surface): void {
    if (this.done?.surface === surface && this.done.block === surface.block) return;
    this.done = { surface, block: surface.block };
    const { open, bent, fan, blocked, backFaces, difference } = this;
    const { fallOff, distance } = this.settings;
    const share = 1 / this.settings.rays;
    open.fill(0, 0, surface.samples.count);
    bent.fill(0, 0, surface.samples.count * 3);
    difference.fill(0, 0, surface.samples.count);
    const byDistance = fallOff && Number.isFinite(distance);
    const { owners, halves } = fan;
    fan.send(surface, (rays, hits) => {
      if (byDistance) surface.occludedAt(owners, rays, hits, backFaces);
      else surface.occluded(owners, rays, blocked, backFaces);
      for (let r = 0; r < rays.count; r++) {
        const free = byDistance
          ? hits.triangles[r]! < 0
            ? 1
            : Math.min(1, hits.distances[r]! / distance)
          : 1 - blocked[r]!;
        if (free === 0) continue;
        const s = owners[r]!;
        open[s]! += free * share;
        difference[s]! += halves[r] === 0 ? free : -free;
        bent[s * 3]! += rays.directions[r * 3]! * free * share;
        bent[s * 3 + 1]! += rays.directions[r * 3 + 1]! * free * share;
        bent[s * 3 + 2]! += rays.directions[r * 3 + 2]! * free * share;
      }
    });
    this.countNoise(surface);
  }

  private countNoise({ samples, hits }: Surface): void {
    const { noise, difference } = this;
    const half = this.settings.rays / 2;
    if (half < 1) return;
    for (let s = 0; s < samples.count; s++) {
      if (hits.triangles[s]! < 0) continue;
      noise.squares += Math.round((difference[s]! / half) ** 2 * 1e6);
      noise.samples++;
    }
  }
}

/** Ambient occlusion (1 is open) and bent normals (the mean open direction), from the same rays. */
export function occlusionMaps(
  settings: BakeSettings,
  extent: number,
  noise: BakeStatistics['noise'],
): { ao: MapBaker; bent: MapBaker } {
  const openness = new Openness(settings, extent, noise);
  const encoding = new DirectionEncoding(settings.normal);
  const begin = (surface: Surface): void => openness.look(surface);
  return {
    ao: {
      channels: 1,
      begin,
      texel: (surface, from, to, out) => meanOverHits(surface, from, to, out, 1, (s) => openness.open[s]!),
      missed: (_surface, _sample, out) => out.fill(1, 0, 1),
    },
    bent: {
      channels: 3,
      begin,
      texel(surface, from, to, out) {
        // Where nothing is open there is no direction to prefer: the normal stands for it.
        if (encoding.mean(surface, from, to, openness.bent, out)) return;
        if (!encoding.mean(surface, from, to, surface.normals, out)) encoding.own(surface, from, out);
      },
      missed: (surface, sample, out) => encoding.own(surface, sample, out),
    },
  };
}
