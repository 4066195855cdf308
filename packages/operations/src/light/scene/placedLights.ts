import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import {
  environmentOf,
  skyPicture,
  type Environment,
  type LightScene,
  type PointLight,
  type SunLight,
} from '@zographos/core/light';
import type { Material } from '@zographos/core/mesh';
import { isLamp } from './lampMeshes.ts';
import type { LightSettings, PlacedLight } from '../settings.ts';
import { skyDirection, UP } from './skyDirection.ts';

/** @param picture of the settings' environment, where it is one @throws input/bad-settings */
export function environmentFor(settings: LightSettings, picture: Image | null): Environment | null {
  const { environment: wanted, environmentStrength } = settings;
  if (wanted.kind === 'none' || environmentStrength === 0) return null;
  const given =
    wanted.kind === 'picture' ? picture! : skyPicture(wanted.kind, { elevation: wanted.elevation, azimuth: 180 });
  const scaled = { ...given, data: given.data.map((value) => value * environmentStrength) };
  return environmentOf(scaled, { up: UP[settings.up], north: skyDirection(settings.up, 0, settings.environmentTurn) });
}

/** Suns and points where they are placed. @param groups of `groupNumbers` */
export function placedLights(
  settings: LightSettings,
  groups: readonly number[],
): { suns: SunLight[]; points: PointLight[] } {
  const suns: SunLight[] = [];
  const points: PointLight[] = [];
  for (const [i, light] of settings.lights.entries()) {
    const group = groups[i]!;
    if (light.kind === 'sun') {
      const towards = skyDirection(settings.up, light.elevation, light.azimuth);
      suns.push({ kind: 'sun', towards, halfAngle: light.angle / 2, irradiance: light.strength, group });
    } else if (!isLamp(light)) {
      points.push({
        kind: 'point',
        position: light.position,
        intensity: light.strength,
        cone: coneOf(light),
        group,
      });
    }
  }
  return { suns, points };
}

function coneOf(light: Extract<PlacedLight, { kind: 'point' | 'spot' }>): PointLight['cone'] {
  if (light.kind === 'point') return null;
  const axis = light.target.map((value, k) => value - light.position[k]!);
  const length = Math.hypot(...axis) || 1;
  const outer = light.angle / 2;
  return {
    axis: axis.map((value) => value / length) as [number, number, number],
    ...{ inner: outer * (1 - light.softness), outer },
  };
}

/** @throws input/bad-settings where there is none */
export function requireLight({ emitters, environment, suns, points }: LightScene): void {
  if (emitters || environment || [...suns, ...points].length > 0) return;
  throw new ZographosError(
    'input/bad-settings',
    'There is no light: no surface sends any, no lamp is placed and there is no environment. Add a light, or choose an environment.',
  );
}

/** @throws input/bad-settings for glass that bends light the wrong way */
export function requireGlass(materials: readonly Material[]): void {
  const thin = materials.find(({ glass }) => glass && !(glass.ior >= 1));
  if (!thin) return;
  throw new ZographosError(
    'input/bad-settings',
    `A material has an index of refraction of ${thin.glass!.ior}. It is 1 for air and more for all that lets light through: mend the material in the file.`,
  );
}
