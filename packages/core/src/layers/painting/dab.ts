import type { Dabs } from './dabs.ts';
import type { Plane } from './texelRows.ts';

/** One dab: the plane under its middle, and what its texels are asked by. */
export interface Dab extends Plane {
  radius: number;
  strength: number;
  flow: number;
  squaredRadius: number;
  /** Within it a dab is whole. */
  squaredCore: number;
  /** Share of the way from there to the border: the distance times the one, less the other. */
  perRadius: number;
  within: number;
}

/** One to be told others. Its numbers begin as fractions: engines lay objects out anew where whole ones become such. */
export const newDab = (): Dab => ({
  ...{ x: 0.1, y: 0.1, z: 0.1, nx: 0.1, ny: 0.1, nz: 0.1, radius: 0.1, strength: 0.1, flow: 0.1 },
  ...{ squaredRadius: 0.1, squaredCore: 0.1, perRadius: 0.1, within: 0.1 },
});

/** Takes up one of the dabs of a stroke. @returns `out`, which is told it */
export function takeDab(
  { centers, normals, radii, strengths, flows }: Dabs,
  i: number,
  hardness: number,
  out: Dab,
): Dab {
  const hard = Math.min(0.999, hardness);
  const radius = radii[i]!;
  out.x = centers[i * 3]!;
  out.y = centers[i * 3 + 1]!;
  out.z = centers[i * 3 + 2]!;
  out.nx = normals[i * 3]!;
  out.ny = normals[i * 3 + 1]!;
  out.nz = normals[i * 3 + 2]!;
  out.radius = radius;
  out.strength = strengths[i]!;
  out.flow = flows[i]!;
  out.squaredRadius = radius * radius;
  out.squaredCore = radius * radius * hard * hard;
  out.perRadius = 1 / ((1 - hard) * radius);
  out.within = hard / (1 - hard);
  return out;
}
