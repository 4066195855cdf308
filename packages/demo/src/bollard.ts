import type { Mesh } from '@zographos/core/mesh';
import { arcLengths, pointAlong, type ProfilePoint } from './profile.ts';
import { bump, denseBody, lightBody, rise, type Skin } from './sweep.ts';

/** Outlines of the mooring bollard in mm, each from below upwards: distance from the axis, and height. */
const SHAFT: readonly ProfilePoint[] = [
  [190, 0],
  [190, 34],
  [128, 58],
  [112, 120],
  [104, 200],
  [104, 330],
  [118, 396],
];
const HEAD: readonly ProfilePoint[] = [
  [118, 396],
  [172, 418],
  [184, 446],
  [172, 478],
  [120, 508],
  [60, 520],
  [0, 524],
];

const RIVETS = 12;

function turned(points: readonly ProfilePoint[]): Skin['at'] {
  const lengths = arcLengths(points);
  return (s, t) => {
    const [radius, height] = pointAlong(points, lengths, s * lengths.at(-1)!).point;
    const angle = t * 2 * Math.PI;
    return [radius * Math.cos(angle), height, -radius * Math.sin(angle)];
  };
}

/** 1 in the middle of a piece, down to 0 at its ends, where it meets the next. */
const within = (s: number): number => 1 - rise(Math.min(s, 1 - s), 0.005, 0.04);

/** Grooves that ropes have worn, the seam of the casting, and the bolts of the foot. */
function shaftRelief(s: number, t: number): number {
  const turn = 2 * Math.PI * t;
  const grooves = [0.58, 0.7, 0.83].map((at, i) => bump((s - at - 0.012 * Math.sin(turn * 2 + i)) / 0.045));
  const worn = -3.4 * Math.max(...grooves) * (0.7 + 0.3 * Math.sin(turn * 3));
  const casting = 2 * rise(Math.abs(((t * 2) % 1) - 0.5) * 340, 2, 7);
  const bolt = Math.hypot((((t * RIVETS) % 1) - 0.5) * 78, (s - 0.2) * 470) / 15;
  return within(s) * Math.max(worn + casting, bolt < 1 ? 10 * bump(bolt) : worn + casting);
}

/** A raised ring, cast dots, and a dent. */
function headRelief(s: number, t: number): number {
  const ring = 4 * rise(Math.abs(s - 0.62) * 360, 6, 10);
  const dots = 5 * bump(Math.hypot((((t * 7) % 1) - 0.5) * 95, (s - 0.78) * 360) / 11);
  const dent = -2.4 * bump(Math.hypot((t - 0.3) * 500, (s - 0.36) * 300) / 46);
  return within(s) * (ring + dots + dent);
}

/** The shaft lies in tile 1001, the head in 1002. */
const SKINS: readonly Skin[] = [
  {
    at: turned(SHAFT),
    relief: shaftRelief,
    island: { u: 0.03, v: 0.14, width: 0.94, height: 0.72 },
    light: [10, 32],
    dense: [260, 560],
    slot: 'cast iron',
  },
  {
    at: turned(HEAD),
    relief: headRelief,
    island: { u: 1.03, v: 0.2, width: 0.94, height: 0.6 },
    light: [10, 32],
    dense: [200, 560],
    slot: 'cast iron',
  },
];

export const bollardLight = (): Mesh => lightBody('Bollard light', SKINS);
export const bollardDense = (): Mesh => denseBody('Bollard dense', SKINS);
