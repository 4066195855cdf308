import type { PlacedLight } from '@zographos/operations';

type Vector = [number, number, number];

/** What lights are placed about. */
export interface Dome {
  centre: Vector;
  radius: number;
}

/** What falls on a surface in the middle that faces a new light: as much as under a sky of radiance 1. */
const IRRADIANCE = Math.PI;

/** A light of a kind, where it lights what is in the middle from above and aside. @param up the axis, 0 to 2 */
export function newLight(kind: PlacedLight['kind'], { centre, radius }: Dome, up: number): PlacedLight {
  const aside = (up + 1) % 3;
  const position = centre.map((value, k) => value + (k === up ? 1.5 : k === aside ? 1 : 0.8) * radius) as Vector;
  const distance = Math.hypot(...position.map((value, k) => value - centre[k]!));
  const intensity = IRRADIANCE * distance ** 2;
  const strength: Vector = [intensity, intensity, intensity];
  const target: Vector = [...centre];
  switch (kind) {
    case 'sun':
      return { kind, elevation: 45, azimuth: 135, angle: 0.53, strength: [IRRADIANCE, IRRADIANCE, IRRADIANCE] };
    case 'point':
      return { kind, position, strength };
    case 'sphere':
      return { kind, position, radius: radius * 0.2, strength };
    case 'disk':
      return { kind, position, target, radius: radius * 0.4, strength };
    case 'rectangle':
      return { kind, position, target, width: radius, height: radius * 0.6, strength };
    case 'spot':
      return { kind, position, target, angle: 40, softness: 0.2, strength };
  }
}

/** The box of some meshes as a middle and half of a diagonal. */
export function domeOf(bounds: readonly { min: readonly number[]; max: readonly number[] }[]): Dome {
  const low = [0, 1, 2].map((k) => Math.min(...bounds.map(({ min }) => min[k]!)));
  const high = [0, 1, 2].map((k) => Math.max(...bounds.map(({ max }) => max[k]!)));
  const radius = Math.hypot(...high.map((value, k) => value - low[k]!)) / 2;
  return { centre: low.map((value, k) => (value + high[k]!) / 2) as Vector, radius: radius > 0 ? radius : 1 };
}
