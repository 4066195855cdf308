type Vector = readonly [number, number, number];

/** A vector of length 1; one of no length points down. */
export function unit([x, y, z]: Vector): [number, number, number] {
  const length = Math.hypot(x, y, z);
  return length > 0 ? [x / length, y / length, z / length] : [0, -1, 0];
}

/** Two unit directions across the unit axis of a lamp: what is wide lies level where it can. */
export function lampFrame(axis: Vector): { aside: [number, number, number]; up: [number, number, number] } {
  const aside = Math.abs(axis[1]) < 0.999 ? unit([axis[2], 0, -axis[0]]) : ([1, 0, 0] as [number, number, number]);
  return {
    aside,
    up: [
      axis[1] * aside[2] - axis[2] * aside[1],
      axis[2] * aside[0] - axis[0] * aside[2],
      axis[0] * aside[1] - axis[1] * aside[0],
    ],
  };
}
