import type { LightSettings } from '../settings.ts';

type Vector = readonly [number, number, number];
type Up = LightSettings['up'];

export const UP: Readonly<Record<Up, Vector>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
/** North for each axis that is up. */
const NORTH: Readonly<Record<Up, Vector>> = { x: [0, 1, 0], y: [0, 0, -1], z: [0, 1, 0] };

function axesOf(up: Up): { up: Vector; north: Vector; east: Vector } {
  const [above, north] = [UP[up], NORTH[up]];
  const east: Vector = [
    north[1] * above[2] - north[2] * above[1],
    north[2] * above[0] - north[0] * above[2],
    north[0] * above[1] - north[1] * above[0],
  ];
  return { up: above, north, east };
}

/**
 * Unit direction of a place in the sky.
 * @param elevation, azimuth degrees above the horizon, and clockwise from north
 * @example skyDirection('y', 0, 90) // [1, 0, 0]: east
 */
export function skyDirection(upAxis: Up, elevation: number, azimuth: number): [number, number, number] {
  const { up, north, east } = axesOf(upAxis);
  const [height, bearing] = [(elevation * Math.PI) / 180, (azimuth * Math.PI) / 180];
  const [level, upwards] = [Math.cos(height), Math.sin(height)];
  const along = (k: 0 | 1 | 2): number =>
    up[k] * upwards + level * (north[k] * Math.cos(bearing) + east[k] * Math.sin(bearing));
  return [along(0), along(1), along(2)];
}

/** The place in the sky that lies in a direction of any length, in degrees: azimuth from 0 up to 360. */
export function placeInSky(upAxis: Up, direction: Vector): { elevation: number; azimuth: number } {
  const { up, north, east } = axesOf(upAxis);
  const along = (axis: Vector): number => axis.reduce((sum, value, k) => sum + value * direction[k]!, 0);
  const [height, forward, aside] = [along(up), along(north), along(east)];
  const elevation = (Math.atan2(height, Math.hypot(forward, aside)) * 180) / Math.PI;
  return { elevation, azimuth: ((Math.atan2(aside, forward) * 180) / Math.PI + 360) % 360 };
}
