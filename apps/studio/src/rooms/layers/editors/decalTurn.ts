import { pictureAxes, type Direction } from '@zographos/core/layers';

/** The upward direction of a decal that is turned about its direction by so many degrees, anticlockwise as it is seen. */
export function upOfTurn(normal: Direction, degrees: number): [number, number, number] {
  const [right, up] = pictureAxes(unit(normal));
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [0, 1, 2].map((k) => up[k]! * cos - right[k]! * sin) as [number, number, number];
}

/** By how much a decal is turned; see `upOfTurn`. */
export function turnOfUp(normal: Direction, up: Direction): number {
  const [right, upright] = pictureAxes(unit(normal));
  const along = (axis: Direction): number => axis[0] * up[0] + axis[1] * up[1] + axis[2] * up[2];
  const degrees = (Math.atan2(-along(right), along(upright)) * 180) / Math.PI;
  return Math.round(degrees * 10) / 10 + 0;
}

function unit([x, y, z]: Direction): [number, number, number] {
  const length = Math.hypot(x, y, z) || 1;
  return [x / length, y / length, z / length];
}
