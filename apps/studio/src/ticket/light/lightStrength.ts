import { linearToSrgb, srgbToLinear } from '@zographos/core/color';

type Strength = readonly [number, number, number];

/** The brightest of the three colours of a light, and its colour beside that, as #rrggbb. */
export function splitStrength(strength: Strength): { amount: number; color: string } {
  const amount = Math.max(...strength);
  const share = (value: number): number => (amount > 0 ? value / amount : 1);
  const hex = (value: number): string =>
    Math.round(linearToSrgb(share(value)) * 255)
      .toString(16)
      .padStart(2, '0');
  return { amount, color: `#${strength.map(hex).join('')}` };
}

/** @param color as #rrggbb; its brightest channel counts as one */
export function joinStrength(amount: number, color: string): [number, number, number] {
  const [r, g, b] = [1, 3, 5].map((at) => srgbToLinear(Number.parseInt(color.slice(at, at + 2), 16) / 255));
  const most = Math.max(r!, g!, b!);
  if (most === 0) return [amount, amount, amount];
  return [(r! / most) * amount, (g! / most) * amount, (b! / most) * amount];
}
