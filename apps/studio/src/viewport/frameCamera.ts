/** A point or a direction in space. */
export type Vector = readonly [x: number, y: number, z: number];

export interface Box {
  min: Vector;
  max: Vector;
}

/** A vector by its three numbers, each made the same way. */
const vector = (along: (k: 0 | 1 | 2) => number): Vector => [along(0), along(1), along(2)];

export const centreOf = ({ min, max }: Box): Vector => vector((k) => (min[k] + max[k]) / 2);

const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

function unit(a: Vector): Vector {
  const length = Math.hypot(...a) || 1;
  return [a[0] / length, a[1] / length, a[2] / length];
}

/** The room that is left around what is framed. */
const MARGIN = 1.06;

/**
 * How far an eye must stand from the centre of a box so that all of the box is in view: exact for each of its corners, so
 * that a long mesh is neither cut off nor lost in an empty view.
 * @param forward from the eye to the centre; of any length
 * @param fieldOfView of the shorter, vertical side, in radians
 * @param aspect width over height of the view
 * @returns a distance in the unit of the box, more than 0
 * @example distanceToFrame({ min: [-1, -1, -1], max: [1, 1, 1] }, [0, 0, -1], Math.PI / 6, 16 / 9)
 */
export function distanceToFrame(box: Box, forward: Vector, fieldOfView: number, aspect: number): number {
  const along = unit(forward);
  // Straight up or down, nobody can say how the view is turned about its axis: any turn must do.
  const isUpright = Math.abs(along[1]) > 0.9999;
  const right = unit(cross(along, isUpright ? [0, 0, 1] : [0, 1, 0]));
  const up = cross(right, along);
  const tall = Math.tan(fieldOfView / 2);
  const wide = tall * aspect;
  const centre = centreOf(box);
  let distance = 0;
  for (let corner = 0; corner < 8; corner++) {
    const at = vector((k) => (corner & (1 << k) ? box.max : box.min)[k] - centre[k]);
    const [x, y] = [dot(at, right), dot(at, up)];
    const beside = isUpright
      ? Math.hypot(x, y) / Math.min(wide, tall)
      : Math.max(Math.abs(x) / wide, Math.abs(y) / tall);
    const needed = beside - dot(at, along);
    distance = Math.max(distance, needed);
  }
  const size = Math.hypot(...vector((k) => box.max[k] - box.min[k]));
  return Math.max(distance * MARGIN, size * 1e-3, 1e-6);
}
