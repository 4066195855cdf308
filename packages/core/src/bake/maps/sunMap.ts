import { mixed, pointX, pointY } from '../../math/lowDiscrepancy.ts';
import { sampleCapacity } from '../coverage/coverage.ts';
import { HemisphereRays, RAY_SETS } from '../rays/hemisphereRays.ts';
import type { BakeSettings, SunPath, SunSeason } from '../settings.ts';
import { FAN_BATCH } from '../source/surface.ts';
import { meanOverHits, type MapBaker } from './mapBaker.ts';

/**
 * How much direct sunlight each place gets over the path of the sun, as a share of what a surface gets that nothing blocks
 * and that always faces the sun. Rays go to the sun at times of the year and day, as often as the air lets sunlight through
 * then; each counts by the cosine of its angle to the surface.
 */
export function sunMap(settings: BakeSettings, extent: number): MapBaker {
  const capacity = sampleCapacity(settings.samplesPerAxis);
  const seen = new Float32Array(capacity);
  const blocked = new Uint8Array(FAN_BATCH);
  const { rays: count, twoSided } = settings.occlusion;
  const seed = settings.seed ^ 0x1b873593;
  const share = 1 / count;
  const fan = new HemisphereRays({
    ...{ rays: count, spread: 'uniform', distance: extent * 4, side: 'above' },
    ...{ seed, inSpace: sunDirections(settings.sun, count, seed) },
  });
  return {
    channels: 1,
    begin(surface) {
      seen.fill(0, 0, surface.samples.count);
      const { owners } = fan;
      const { normals } = surface;
      fan.send(surface, (rays) => {
        surface.occluded(owners, rays, blocked, twoSided ? 'accept' : 'ignore');
        for (let r = 0; r < rays.count; r++) {
          if (blocked[r]) continue;
          const [x, y, z] = [rays.directions[r * 3]!, rays.directions[r * 3 + 1]!, rays.directions[r * 3 + 2]!];
          const s = owners[r]!;
          const cos = normals[s * 3]! * x + normals[s * 3 + 1]! * y + normals[s * 3 + 2]! * z;
          if (cos > 0) seen[s]! += cos * share;
        }
      });
    },
    texel: (surface, from, to, out) => meanOverHits(surface, from, to, out, 1, (s) => Math.min(1, seen[s]!)),
    missed: (_surface, _sample, out) => out.fill(1, 0, 1),
  };
}

/** The first day of each season and how many it has, counted from the first of January. */
const SEASONS: Readonly<Record<SunSeason, readonly [from: number, days: number]>> = {
  year: [1, 365],
  summer: [81, 185],
  winter: [266, 180],
};

/** Times that a day, and a season, are divided into. */
const [HOURS, DAYS] = [288, 61];

/** Directions to the sun, for all sets of rays: drawn as often as sunlight comes from there. */
function sunDirections({ up, north, latitude, season }: SunPath, rays: number, seed: number): Float32Array {
  const [first, days] = SEASONS[season];
  const sun = new Float64Array(DAYS * HOURS * 3);
  const ofDay = new Float64Array(DAYS);
  const upTo = new Float64Array(DAYS * HOURS);
  let all = 0;
  for (let day = 0; day < DAYS; day++) {
    let sum = 0;
    for (let hour = 0; hour < HOURS; hour++) {
      const at = day * HOURS + hour;
      const [east, toNorth, height] = sunAt(latitude, first + ((day + 0.5) / DAYS) * days, ((hour + 0.5) / HOURS) * 24);
      sun.set([east, toNorth, height], at * 3);
      upTo[at] = sum += throughAir(height);
    }
    ofDay[day] = all += sum;
  }
  const axes = [eastOf(up, north), north, up] as const;
  const directions = new Float32Array(RAY_SETS * rays * 3);
  for (let i = 0; i < RAY_SETS * rays && all > 0; i++) {
    const set = mixed(Math.floor(i / rays), seed);
    const day = firstAbove(ofDay, pointX(i % rays, set) * all);
    const dayTimes = upTo.subarray(day * HOURS, (day + 1) * HOURS);
    const hour = firstAbove(dayTimes, pointY(i % rays, set) * dayTimes[HOURS - 1]!);
    const at = (day * HOURS + hour) * 3;
    for (let k = 0; k < 3; k++) {
      directions[i * 3 + k] = axes.reduce((sum, axis, a) => sum + axis[k]! * sun[at + a]!, 0);
    }
  }
  return directions;
}

const firstAbove = (sums: Float64Array, value: number): number => {
  const at = sums.findIndex((sum) => sum > value);
  return at < 0 ? sums.length - 1 : at;
};

/**
 * The direction to the sun: east, north and up (Duffie and Beckman, "Solar Engineering of Thermal Processes", chapter 1; the
 * declination by Cooper 1969).
 * @param latitude in degrees @param day of the year @param time solar, 0 to 24
 */
export function sunAt(latitude: number, day: number, time: number): [east: number, north: number, up: number] {
  const radians = Math.PI / 180;
  const declination = 23.45 * radians * Math.sin(((2 * Math.PI) / 365) * (284 + day));
  const hour = (time - 12) * 15 * radians;
  const [sinL, cosL] = [Math.sin(latitude * radians), Math.cos(latitude * radians)];
  const [sinD, cosD] = [Math.sin(declination), Math.cos(declination)];
  return [
    -cosD * Math.sin(hour),
    sinD * cosL - cosD * sinL * Math.cos(hour),
    sinD * sinL + cosD * cosL * Math.cos(hour),
  ];
}

/** Share of sunlight that the air lets through: 0.7^(AM^0.678) (Meinel and Meinel, "Applied Solar Energy", 1976). */
const throughAir = (height: number): number => (height <= 0.01 ? 0 : 0.7 ** ((1 / height) ** 0.678));

const eastOf = (up: SunPath['up'], north: SunPath['north']): [number, number, number] => [
  north[1] * up[2] - north[2] * up[1],
  north[2] * up[0] - north[0] * up[2],
  north[0] * up[1] - north[1] * up[0],
];
