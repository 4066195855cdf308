/** A point of a profile that turns about the y axis: distance from the axis and height, in mm. */
export type ProfilePoint = readonly [radius: number, height: number];

export type SectionName = 'bottom' | 'waist' | 'deck' | 'bell' | 'crown';

/** One part of the buoy's outline, from below upwards. */
export interface Section {
  name: SectionName;
  points: readonly ProfilePoint[];
}

/** A quarter of an ellipse between two points on the outline, `steps` pieces. */
function arc(from: ProfilePoint, to: ProfilePoint, steps: number, bulge: 'out' | 'up'): ProfilePoint[] {
  return Array.from({ length: steps + 1 }, (_, i) => {
    const angle = (i / steps) * (Math.PI / 2);
    const [s, c] = [Math.sin(angle), Math.cos(angle)];
    const share: [number, number] = bulge === 'out' ? [s, 1 - c] : [1 - c, s];
    return [from[0] + (to[0] - from[0]) * share[0], from[1] + (to[1] - from[1]) * share[1]];
  });
}

const straight = (from: ProfilePoint, to: ProfilePoint, steps: number): ProfilePoint[] =>
  Array.from({ length: steps + 1 }, (_, i) => [
    from[0] + ((to[0] - from[0]) * i) / steps,
    from[1] + ((to[1] - from[1]) * i) / steps,
  ]);

const join = (...parts: ProfilePoint[][]): ProfilePoint[] =>
  parts.flatMap((part, i) => (i === 0 ? part : part.slice(1)));

/** The outline of the bell buoy: a float with a waist and a sloping deck, and the bell upon it. */
export const BUOY: readonly Section[] = [
  { name: 'bottom', points: arc([0, -190], [400, 0], 6, 'out') },
  { name: 'waist', points: straight([400, 0], [400, 260], 5) },
  { name: 'deck', points: straight([400, 260], [175, 338], 4) },
  {
    name: 'bell',
    points: join(
      straight([175, 338], [236, 352], 1),
      straight([236, 352], [228, 392], 2),
      arc([228, 392], [166, 500], 5, 'up').map(([r, h], i, all) => [
        r,
        h + 3 * Math.sin((i / (all.length - 1)) * Math.PI),
      ]),
      straight([166, 500], [150, 600], 3),
    ),
  },
  { name: 'crown', points: arc([150, 600], [0, 690], 5, 'up') },
];

/** Length along each point of an outline from its first. */
export function arcLengths(points: readonly ProfilePoint[]): number[] {
  const lengths = [0];
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1]!, points[i]!];
    lengths.push(lengths[i - 1]! + Math.hypot(b[0] - a[0], b[1] - a[1]));
  }
  return lengths;
}

/** The point at a given length along an outline, and the outward normal (radius, height) there. */
export function pointAlong(
  points: readonly ProfilePoint[],
  lengths: readonly number[],
  length: number,
): { point: ProfilePoint; normal: ProfilePoint } {
  let i = 1;
  while (i < points.length - 1 && lengths[i]! < length) i++;
  const [a, b] = [points[i - 1]!, points[i]!];
  const span = lengths[i]! - lengths[i - 1]!;
  const share = Math.min(1, Math.max(0, (length - lengths[i - 1]!) / span));
  const tangent = [(b[0] - a[0]) / span, (b[1] - a[1]) / span] as const;
  return {
    point: [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share],
    normal: [tangent[1], -tangent[0]],
  };
}
