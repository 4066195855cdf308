import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LIGHT_LABELS, lightSchema, type PlacedLight } from '@zographos/operations';
import { joinStrength, splitStrength } from './lightStrength.ts';
import { domeOf, newLight } from './newLight.ts';

describe('the strength of a light', () => {
  it('is an amount and a colour, which together are the strength again, to a step of the colour', () => {
    const part = fc.double({ min: 0.2, max: 1, noNaN: true });
    fc.assert(
      fc.property(fc.tuple(part, part, part), fc.double({ min: 1e-3, max: 1e6, noNaN: true }), (shares, scale) => {
        const strength = shares.map((share) => share * scale) as [number, number, number];
        const { amount, color } = splitStrength(strength);
        expect(amount).toBeCloseTo(Math.max(...strength), 6);
        joinStrength(amount, color).forEach((value, c) => expect(value / strength[c]!).toBeCloseTo(1, 1));
      }),
    );
    expect(splitStrength([0, 0, 0])).toEqual({ amount: 0, color: '#ffffff' });
    expect(joinStrength(3, '#000000')).toEqual([3, 3, 3]);
  });
});

describe('a new light', () => {
  const bounds = [{ min: [-2, 0, 1], max: [2, 8, 5] }];
  it.each(Object.keys(LIGHT_LABELS) as PlacedLight['kind'][])(
    '%s is one that the schema takes, outside what it lights, and gives it π',
    (kind) => {
      const dome = domeOf(bounds);
      expect(dome.centre).toEqual([0, 4, 3]);
      const light = newLight(kind, dome, 1);
      expect(lightSchema.safeParse(light).error).toBeUndefined();
      if (light.kind === 'sun') {
        expect(light.strength[0]).toBeCloseTo(Math.PI, 9);
        return;
      }
      const distance = Math.hypot(...light.position.map((value, k) => value - dome.centre[k]!));
      expect(distance).toBeGreaterThan(dome.radius);
      expect(light.strength[0] / distance ** 2).toBeCloseTo(Math.PI, 9);
    },
  );
});
