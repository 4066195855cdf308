import { fraction } from './fraction.ts';

export const RAMP_WAYS = ['across', 'up', 'round', 'wave'] as const;

/** A gradient: straight, round about the middle, or up and down again so that it repeats. */
export function ramp(u: number, v: number, aspect: number, way: (typeof RAMP_WAYS)[number], times: number): number {
  switch (way) {
    case 'across':
      return fraction(u * times);
    case 'up':
      return fraction((1 - v) * times);
    case 'round':
      return Math.max(0, 1 - 2 * Math.hypot(u - 0.5, (v - 0.5) * aspect));
    case 'wave':
      return 0.5 - 0.5 * Math.cos(2 * Math.PI * u * times);
  }
}
