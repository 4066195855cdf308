import { orthonormalBasis } from '../../math/orthonormalBasis.ts';
import { mixed } from '../../math/lowDiscrepancy.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';
import { POINT, VARYING, type Stroke, type Symmetry, type Varying } from './stroke.ts';

/** The dabs of a stroke, one after the other. */
export interface Dabs {
  count: number;
  /** x, y, z of each, in millimetres. */
  centers: Float32Array;
  /** Unit normals of the surface there. */
  normals: Float32Array;
  radii: Float32Array;
  /** Up to which strength each adds, 0 to 1. */
  strengths: Float32Array;
  /** How much each adds of what is lacking there, 0 to 1. */
  flows: Float32Array;
  /** Unit directions of the stroke there; 0 of a single dab. */
  along: Float32Array;
  /** How far the picture of each is turned beside what its brush says, as a share of a whole turn. */
  turns: Float32Array;
  /** −1 of dabs that were mirrored, 1 else: which way the right of a picture is. */
  hands: Float32Array;
  /** Boxes about dabs that follow each other, so many at a time: x, y, z of the lower and the upper corner. */
  boxes: Float32Array;
}

/** Dabs that share a box. */
export const CHUNK = 64;

/** The most dabs of one stroke; more points are drawn with wider steps. */
const MOST_DABS = 200_000;

/**
 * Sets down dabs along a stroke: evenly by the length of its line in space, between the points that the pen was told at.
 * A stroke of one point is one dab.
 * @param repeats of the surface: on a tile that repeats, dabs that reach over a border come in again on the other side
 * @param after the dabs are left out that do not hang on points from this one on
 */
export function dabsOf({ points, brush, seed }: Stroke, repeats: LayeredSurface['repeats'] = null, after = 0): Dabs {
  const { radius, spacing, scatter, flow, strength, varies } = brush;
  const count = points.length / POINT;
  let length = 0;
  for (let i = 1; i < count; i++) length += distance(points, i - 1, i);
  const leastStep = Math.max(radius * 0.02, length / MOST_DABS, 1e-6);
  /** How much of something of the brush a dab has. */
  const share = (what: Varying, dab: number, pressed: number): number => {
    const varied = varies[what];
    if (!varied) return 1;
    const between = varied.by === 'pressure' ? pressed : chance(dab, seed, VARYING.indexOf(what) + 1);
    return varied.least + (1 - varied.least) * between;
  };
  const stepAfter = (dab: number, pressed: number): number =>
    Math.max(leastStep, radius * spacing * share('spacing', dab, pressed));
  const most = Math.floor(length / Math.max(leastStep, radius * spacing * (varies.spacing?.least ?? 1))) + 1;
  const turn = brush.picture?.turn;
  const dabs: Dabs = {
    count: 0,
    centers: new Float32Array(most * 3),
    normals: new Float32Array(most * 3),
    radii: new Float32Array(most),
    strengths: new Float32Array(most),
    flows: new Float32Array(most),
    along: new Float32Array(most * 3),
    turns: new Float32Array(most),
    hands: new Float32Array(most).fill(1),
    boxes: new Float32Array(0),
  };
  let number = -1;
  /** @returns how far it is to the next */
  const put = (from: number, to: number, way: number): number => {
    number++;
    const between = (k: number): number =>
      points[from * POINT + k]! + (points[to * POINT + k]! - points[from * POINT + k]!) * way;
    const pressed = between(6);
    const next = stepAfter(number, pressed);
    // The first dab goes the way of those that follow.
    if (dabs.count >= most || Math.max(1, to) < after) return next;
    const at = dabs.count++;
    const normal = unit3(between(3), between(4), between(5));
    dabs.radii[at] = radius * Math.max(0.02, share('radius', number, pressed));
    dabs.strengths[at] = strength * share('strength', number, pressed);
    dabs.flows[at] = flow * share('flow', number, pressed);
    if (turn === 'random') dabs.turns[at] = chance(number, seed, 0);
    else if (turn === 'pressure') dabs.turns[at] = pressed;
    const ahead = from === to ? Math.min(count - 1, to + 1) : to;
    const along = [0, 1, 2].map((k) => points[ahead * POINT + k]! - points[from * POINT + k]!);
    dabs.along.set(unit3(along[0]!, along[1]!, along[2]!), at * 3);
    const [a, b] = strayed(normal, scatter * radius * share('scatter', number, pressed), mixed(number, seed));
    for (let k = 0; k < 3; k++) {
      dabs.centers[at * 3 + k] = between(k) + a[k]! + b[k]!;
      dabs.normals[at * 3 + k] = normal[k]!;
    }
    return next;
  };
  let left = count > 0 ? put(0, 0, 0) : 0;
  for (let i = 1; i < count; i++) {
    const long = distance(points, i - 1, i);
    while (left <= long) {
      left += put(i - 1, i, left / long);
    }
    left -= long;
  }
  const painted = repeated(dabs, brush.symmetry);
  const all = repeats ? overBorders(painted, repeats) : painted;
  return { ...all, boxes: boxesOf(all) };
}

/** The dabs of a stroke, and those of its mirrored or turned copies. */
function repeated(dabs: Dabs, symmetry: Symmetry | null): Dabs {
  const changes = changesOf(symmetry);
  if (changes.length === 0) return { ...dabs, ...cut(dabs) };
  const { count } = dabs;
  const all = { ...dabs, ...cut(dabs) };
  for (const key of ['radii', 'strengths', 'flows', 'turns', 'hands'] as const) {
    const more = new Float32Array(count * (changes.length + 1));
    for (let copy = 0; copy <= changes.length; copy++) more.set(all[key], copy * count);
    all[key] = more;
  }
  for (const key of ['centers', 'normals', 'along'] as const) {
    const more = new Float32Array(count * 3 * (changes.length + 1));
    more.set(all[key]);
    changes.forEach(({ place }, copy) => {
      for (let i = 0; i < count; i++) {
        const at = i * 3;
        const [x, y, z] = [all[key][at]!, all[key][at + 1]!, all[key][at + 2]!];
        more.set(place(x, y, z, key === 'centers'), (copy + 1) * count * 3 + at);
      }
    });
    all[key] = more;
  }
  changes.forEach(({ mirrors }, copy) => {
    if (mirrors) all.hands.fill(-1, (copy + 1) * count, (copy + 2) * count);
  });
  return { ...all, count: count * (changes.length + 1) };
}

/** Dabs with their copies by a whole tile, as far as these reach into it; those of one step follow each other. */
function overBorders(dabs: Omit<Dabs, 'boxes'>, [width, height]: readonly [number, number]): Omit<Dabs, 'boxes'> {
  const taken: number[] = [];
  const steps: number[] = [];
  const reachesInto = (middle: number, radius: number, length: number): boolean =>
    middle + radius > 0 && middle - radius < length;
  for (const [dx, dy] of STEPS) {
    for (let i = 0; i < dabs.count; i++) {
      const [x, y, r] = [dabs.centers[i * 3]! + dx * width, dabs.centers[i * 3 + 1]! + dy * height, dabs.radii[i]!];
      if (!reachesInto(x, r, width) || !reachesInto(y, r, height)) continue;
      taken.push(i);
      steps.push(dx * width, dy * height);
    }
  }
  const one = (values: Float32Array): Float32Array => Float32Array.from(taken, (i) => values[i]!);
  const three = (values: Float32Array): Float32Array =>
    Float32Array.from({ length: taken.length * 3 }, (_, k) => values[taken[Math.floor(k / 3)]! * 3 + (k % 3)]!);
  const centers = three(dabs.centers);
  taken.forEach((_, i) => {
    centers[i * 3]! += steps[i * 2]!;
    centers[i * 3 + 1]! += steps[i * 2 + 1]!;
  });
  return {
    count: taken.length,
    centers,
    ...{ normals: three(dabs.normals), along: three(dabs.along), radii: one(dabs.radii), hands: one(dabs.hands) },
    ...{ strengths: one(dabs.strengths), flows: one(dabs.flows), turns: one(dabs.turns) },
  };
}

/** Where copies of a tile lie, itself first. */
const STEPS = [0, -1, 1].flatMap((dy) => [0, -1, 1].map((dx) => [dx, dy] as const));

/** Arrays as long as there are dabs. */
const cut = (dabs: Dabs): Omit<Dabs, 'count' | 'boxes'> => {
  const { count } = dabs;
  return {
    centers: dabs.centers.slice(0, count * 3),
    normals: dabs.normals.slice(0, count * 3),
    radii: dabs.radii.slice(0, count),
    strengths: dabs.strengths.slice(0, count),
    flows: dabs.flows.slice(0, count),
    along: dabs.along.slice(0, count * 3),
    turns: dabs.turns.slice(0, count),
    hands: dabs.hands.slice(0, count),
  };
};

/** A number 0 to 1 of a dab, another for each thing that is random in it. */
const chance = (dab: number, seed: number, what: number): number =>
  (mixed(dab, seed ^ (0x2f6b + what * 0x9e37)) >>> 0) / 2 ** 32;

interface Change {
  mirrors: boolean;
  /** A place, or a direction where it is none. */
  place: (x: number, y: number, z: number, isPlace: boolean) => [number, number, number];
}

function changesOf(symmetry: Symmetry | null): Change[] {
  if (symmetry?.by === 'mirror') {
    const { axis, at } = symmetry;
    return [
      {
        mirrors: true,
        place: (x, y, z, isPlace) => {
          const moved: [number, number, number] = [x, y, z];
          moved[axis] = (isPlace ? 2 * at : 0) - moved[axis];
          return moved;
        },
      },
    ];
  }
  if (symmetry?.by !== 'turn') return [];
  const { axis, at, times } = symmetry;
  const [b, c] = [(axis + 1) % 3, (axis + 2) % 3];
  return Array.from({ length: times - 1 }, (_, i): Change => {
    const angle = ((i + 1) / times) * 2 * Math.PI;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    return {
      mirrors: false,
      place: (x, y, z, isPlace) => {
        const moved = [x, y, z] as [number, number, number];
        const middle = isPlace ? at : [0, 0, 0];
        const [p, q] = [moved[b]! - middle[b]!, moved[c]! - middle[c]!];
        moved[b] = middle[b]! + p * cos - q * sin;
        moved[c] = middle[c]! + p * sin + q * cos;
        return moved;
      },
    };
  });
}

function distance(points: Float32Array, a: number, b: number): number {
  const [p, q] = [a * POINT, b * POINT];
  return Math.hypot(points[q]! - points[p]!, points[q + 1]! - points[p + 1]!, points[q + 2]! - points[p + 2]!);
}

function unit3(x: number, y: number, z: number): [number, number, number] {
  const length = Math.hypot(x, y, z) || 1;
  return [x / length, y / length, z / length];
}

/** Two steps along the surface, which add up to a random place within a circle. */
function strayed(normal: readonly number[], reach: number, random: number): [number[], number[]] {
  if (reach === 0) return [ZERO, ZERO];
  const turn = ((random & 0xffff) / 65536) * 2 * Math.PI;
  const far = Math.sqrt((random >>> 16) / 65536) * reach;
  const [x, y, z] = normal as [number, number, number];
  orthonormalBasis(x, y, z, basis);
  const u = [...basis.subarray(0, 3)];
  const v = [...basis.subarray(3)];
  return [u.map((value) => value * far * Math.cos(turn)), v.map((value) => value * far * Math.sin(turn))];
}

const ZERO = [0, 0, 0];
const basis = new Float64Array(6);

function boxesOf({ count, centers, radii }: Omit<Dabs, 'boxes'>): Float32Array {
  const chunks = Math.ceil(count / CHUNK);
  const boxes = new Float32Array(chunks * 6);
  for (let c = 0; c < chunks; c++) {
    boxes.fill(Infinity, c * 6, c * 6 + 3);
    boxes.fill(-Infinity, c * 6 + 3, c * 6 + 6);
    for (let i = c * CHUNK; i < Math.min(count, (c + 1) * CHUNK); i++) {
      for (let k = 0; k < 3; k++) {
        boxes[c * 6 + k] = Math.min(boxes[c * 6 + k]!, centers[i * 3 + k]! - radii[i]!);
        boxes[c * 6 + 3 + k] = Math.max(boxes[c * 6 + 3 + k]!, centers[i * 3 + k]! + radii[i]!);
      }
    }
  }
  return boxes;
}
