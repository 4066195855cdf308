import { describe, expect, it } from 'vitest';
import { line, stroke } from '../../testing/painting.ts';
import { dabsOf } from './dabs.ts';

describe('dabs', () => {
  it('are set down evenly along a stroke, however its points came in', () => {
    const brush = { radius: 5, spacing: 0.5 };
    const even = dabsOf(stroke(line([-40, 0], [40, 0], 3), brush));
    const uneven = dabsOf(stroke([...line([-40, 0], [-39, 0], 50), ...line([-38, 0], [40, 0], 7)], brush));
    expect([even.count, uneven.count]).toEqual([33, 33]);
    for (let i = 0; i < 33 * 3; i++) expect(uneven.centers[i]).toBeCloseTo(even.centers[i]!, 3);
    expect(dabsOf(stroke([[1, 2, 3, 0, 0, 1]])).count).toBe(1);
    // Points without end become fewer dabs, not more memory.
    expect(dabsOf(stroke(line([-1e7, 0], [1e7, 0]), brush)).count).toBeLessThan(200_002);
  });

  const pressed = (pressure: number): number[][] => line([-40, 0], [40, 0]).map((point) => [...point, pressure]);

  it('go by pressure between all of the brush and the least share of it', () => {
    const by = 'pressure' as const;
    const varies = {
      ...{
        radius: { by, least: 0.2 },
        strength: { by, least: 0 },
        flow: { by, least: 0.5 },
        spacing: { by, least: 0.4 },
      },
    } as const;
    const dabs = dabsOf(stroke(pressed(0.5), { ...{ radius: 10, strength: 0.8, flow: 1, spacing: 1 }, varies }));
    // 0.2 + 0.8 · 0.5 of 10, half of 0.8, 0.5 + 0.5 · 0.5, and a step of 0.4 + 0.6 · 0.5 of 10.
    expect([dabs.radii[3], dabs.strengths[3], dabs.flows[3]].map((value) => value!.toFixed(4))).toEqual([
      '6.0000',
      '0.4000',
      '0.7500',
    ]);
    expect(dabs.centers[12]! - dabs.centers[9]!).toBeCloseTo(7, 4);
    expect(dabs.count).toBe(Math.floor(80 / 7) + 1);
  });

  it('stray as far as pressure lets them', () => {
    const far = (pressure: number): number => {
      const varies = { scatter: { by: 'pressure', least: 0 } } as const;
      const { centers, count } = dabsOf(stroke(pressed(pressure), { radius: 10, spacing: 0.05, scatter: 1, varies }));
      return Math.max(...Array.from({ length: count }, (_, i) => Math.abs(centers[i * 3 + 1]!)));
    };
    expect(far(1)).toBeGreaterThan(8);
    expect(far(1)).toBeLessThanOrEqual(10);
    expect(far(0.3)).toBeGreaterThan(2);
    expect(far(0.3)).toBeLessThanOrEqual(3);
  });

  it('differ at random evenly over the whole span, each thing by itself, the same for the same seed', () => {
    const varies = { radius: { by: 'random', least: 0.5 }, flow: { by: 'random', least: 0 } } as const;
    const one = stroke(pressed(1), { radius: 10, spacing: 0.02, varies });
    const dabs = dabsOf(one);
    const radii = [...dabs.radii];
    expect(Math.min(...radii)).toBeGreaterThanOrEqual(5);
    expect(Math.max(...radii)).toBeLessThanOrEqual(10);
    const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
    expect(mean(radii)).toBeCloseTo(7.5, 0.5);
    const [r, f] = [mean(radii), mean([...dabs.flows])];
    const together = mean(radii.map((value, i) => ((value - r) / 5) * (dabs.flows[i]! - f)));
    // Independent: no more than 3 / √n of the product of their deviations.
    expect(Math.abs(together)).toBeLessThan(3 / 12 / Math.sqrt(radii.length));
    expect(dabsOf(one).radii).toEqual(dabs.radii);
    expect(dabsOf({ ...one, seed: 2 }).radii).not.toEqual(dabs.radii);
  });
});
