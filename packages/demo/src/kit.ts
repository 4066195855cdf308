import type { Mesh } from '@zographos/core/mesh';
import { bump, denseBody, lightBody, rise, type Skin, type Vector } from './sweep.ts';

/** A pipe along a path in the plane z = 0, in mm. */
function pipe(path: (s: number) => readonly [x: number, y: number], radius: (s: number) => number): Skin['at'] {
  const step = 1e-3;
  return (s, t) => {
    const [x, y] = path(s);
    const [a, b] = [path(Math.max(0, s - step)), path(Math.min(1, s + step))];
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
    const normal = [-(b[1] - a[1]) / length, (b[0] - a[0]) / length];
    const angle = t * 2 * Math.PI;
    const out = radius(s) * Math.cos(angle);
    return [x + normal[0]! * out, y + normal[1]! * out, radius(s) * Math.sin(angle)];
  };
}

/** A radius that closes both ends of a pipe like a dome. */
const domed =
  (radius: number, end = 0.06) =>
  (s: number): number =>
    radius * Math.sqrt(Math.max(0, 1 - Math.max(0, 1 - Math.min(s, 1 - s) / end) ** 2));

/** A ring of rope wear: shallow grooves that run askew about a pipe. */
const scored = (turns: number, depth: number) => (s: number, t: number) =>
  -depth * bump((((s * turns + t) % 1) - 0.5) / 0.32) * rise(Math.abs(s - 0.5), 0.3, 0.44);

const ring: Skin = {
  at: (s, t): Vector => {
    const [a, b] = [s * 2 * Math.PI, t * 2 * Math.PI];
    const radius = 62 + 11 * Math.cos(b);
    return [radius * Math.cos(a), radius * Math.sin(a) - 96, 11 * Math.sin(b)];
  },
  relief: (s, t) => 0.9 * bump((((s * 24) % 1) - 0.5) / 0.12) - 0.6 * bump((((s * 60 + t) % 1) - 0.5) / 0.4),
  island: { u: 0.02, v: 0.02, width: 0.96, height: 0.16 },
  light: [36, 10],
  dense: [360, 56],
  slot: 'galvanised',
};

/** The bow of the shackle passes through the ring. */
const bow: Skin = {
  at: pipe(
    (s) => {
      const turn = Math.PI * (1 - s);
      const leg = Math.max(0, Math.abs(s - 0.5) - 0.32) * 180;
      return [
        34 * Math.cos(Math.PI * Math.min(0.82, Math.max(0.18, s)) - Math.PI) * -1,
        -12 - leg + 34 * Math.sin(turn) * (leg > 0 ? 0.54 : 1),
      ];
    },
    (s) => domed(9, 0.05)(s) + 4 * bump((Math.min(s, 1 - s) - 0.08) / 0.06),
  ),
  relief: scored(20, 0.8),
  island: { u: 0.02, v: 0.2, width: 0.96, height: 0.14 },
  light: [32, 10],
  dense: [280, 56],
  slot: 'steel',
};

const pin: Skin = {
  at: pipe(
    (s) => [-52 + 104 * s, -46],
    (s) => domed(6.5, 0.04)(s) + 5 * bump((s - 0.06) / 0.07),
  ),
  relief: (s) => 0.7 * bump((((s * 40) % 1) - 0.5) / 0.4) * rise(Math.abs(s - 0.8), 0.08, 0.1),
  island: { u: 0.02, v: 0.36, width: 0.6, height: 0.1 },
  light: [12, 10],
  dense: [160, 46],
  slot: 'steel',
};

const horn: Skin = {
  at: pipe(
    (s) => [-120 + 240 * s, 64 + 16 * (2 * s - 1) ** 2],
    (s) => domed(15, 0.16)(s) * (1.1 - 0.35 * Math.abs(2 * s - 1)),
  ),
  relief: scored(14, 1.1),
  island: { u: 0.02, v: 0.5, width: 0.96, height: 0.16 },
  light: [20, 12],
  dense: [260, 66],
  slot: 'brass',
};

const post = (x: number, v: number): Skin => ({
  at: pipe(
    (s) => [x, 10 + 56 * s],
    (s) => 13 + 9 * (1 - s) ** 3,
  ),
  relief: (s, t) => 0.8 * bump((((t * 6) % 1) - 0.5) / 0.2) * rise(Math.abs(s - 0.5), 0.25, 0.4),
  island: { u: v === 0 ? 0.02 : 0.52, v: 0.7, width: 0.46, height: 0.1 },
  light: [4, 12],
  dense: [80, 70],
  slot: 'brass',
});

/** The plate of the cleat: a rounded slab with four screws. */
const plate: Skin = {
  at: (s, t): Vector => {
    const [a, b] = [(s - 0.5) * Math.PI, t * 2 * Math.PI];
    const soft = (value: number, power: number): number => Math.sign(value) * Math.abs(value) ** power;
    const round = soft(Math.cos(a), 0.5);
    return [86 * round * soft(Math.cos(b), 0.55), 5 + 9 * soft(Math.sin(a), 0.5), 26 * round * soft(Math.sin(b), 0.55)];
  },
  relief: (s, t) => (s > 0.5 ? 1.8 * bump(Math.hypot((((t * 4) % 1) - 0.5) * 40, (s - 0.74) * 130) / 7) : 0),
  island: { u: 0.02, v: 0.83, width: 0.96, height: 0.14 },
  light: [12, 24],
  dense: [120, 210],
  slot: 'brass',
};

const PARTS: readonly [name: string, skins: readonly Skin[]][] = [
  ['Cleat', [horn, post(-42, 0), post(42, 1), plate]],
  ['Shackle', [bow, pin]],
  ['Ring', [ring]],
];

/** Cleat, shackle and ring on one layout; the ring hangs in the shackle, so that each must see its own source alone. */
export const kitLight = (): Mesh[] => PARTS.map(([name, skins]) => lightBody(`${name}_low`, skins));
export const kitDense = (): Mesh[] => PARTS.map(([name, skins]) => denseBody(`${name}_high`, skins));

/** The kit's three materials. */
export const KIT_MATERIALS = `newmtl brass
Kd 0.78 0.6 0.27
Pr 0.34
Pm 1
newmtl steel
Kd 0.56 0.57 0.58
Pr 0.42
Pm 1
newmtl galvanised
Kd 0.66 0.69 0.7
Pr 0.58
Pm 1
`;
