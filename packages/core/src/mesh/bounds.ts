export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

/** The axis-aligned box around a list of x, y, z positions. An empty list gives an inverted, infinite box. */
export function boundsOf(positions: Float32Array): Bounds {
  const min: Bounds['min'] = [Infinity, Infinity, Infinity];
  const max: Bounds['max'] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    for (let axis = 0; axis < 3; axis++) {
      const value = positions[i + axis]!;
      if (value < min[axis]!) min[axis] = value;
      if (value > max[axis]!) max[axis] = value;
    }
  }
  return { min, max };
}

/** Whether two boxes share some room. */
export const boxesOverlap = (a: Bounds, b: Bounds): boolean =>
  a.min.every((low, axis) => low <= b.max[axis]! && b.min[axis]! <= a.max[axis]!);

/** The length of a box's diagonal. */
export function diagonal({ min, max }: Bounds): number {
  return Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
}
