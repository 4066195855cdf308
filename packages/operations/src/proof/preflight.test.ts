import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_GROUP } from '@zographos/core/trace';
import { reliefPlane, sphere } from '@zographos/core/testing';
import type { Mesh } from '@zographos/core/mesh';
import { DEFAULT_BAKE } from '../bake/settings.ts';
import { listed, matchInputs } from '../scene/matchedInputs.ts';
import { repeatSources } from '../scene/repeatSources.ts';
import { scaleSources } from '../scene/scaleSources.ts';
import type { RunMesh } from '../scene/runMesh.ts';
import { boxOf, preflight, scaleMismatch } from './preflight.ts';

const input = (mesh: Mesh): RunMesh => ({ hash: mesh.name, mesh });
const named = (name: string): RunMesh => input(reliefPlane(name, 1, 1));
const box = (side: number, at = 0) => ({
  min: [at, at, at] as [number, number, number],
  max: [at + side, at + side, at + side] as [number, number, number],
});
const settings = DEFAULT_BAKE as never;

describe('sizes of a receiver and a source', () => {
  it('that differ as units do are named with both, and with the factor that brings them together', () => {
    const cases: [number, string, string, number][] = [
      [10, 'centimetres', 'millimetres', 0.1],
      [100, 'metres', 'centimetres', 0.01],
      [1000, 'metres', 'millimetres', 0.001],
      [25.4, 'inches', 'millimetres', 1 / 25.4],
    ];
    for (const [ratio, receiver, source, factor] of cases) {
      const large = scaleMismatch(box(1, 50), box(ratio, -2000))!;
      expect(large.sentence).toContain(`It seems to be in ${source} and the receiver in ${receiver}.`);
      expect(large.factor).toBeCloseTo(factor, 6);
      const small = scaleMismatch(box(ratio, -2000), box(1, 50))!;
      expect(small.factor).toBeCloseTo(ratio, 6);
    }
  });

  it('brought together by that factor are no mismatch any more', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(10, 100, 1000, 2.54, 25.4, 39.37),
        fc.double({ min: 0.95, max: 1.05, noNaN: true }),
        (unit, off) => {
          const found = scaleMismatch(box(1, 50), box(unit * off, -5000));
          if (!found) return;
          expect(scaleMismatch(box(1, 50), box(unit * off * found.factor, -5000))).toBeNull();
        },
      ),
    );
  });

  it('that are about alike, or lie in each other, are no mistake', () => {
    expect(scaleMismatch(box(1), box(1.9))).toBeNull();
    expect(scaleMismatch(box(1), box(2.54))).toBeNull();
    expect(scaleMismatch(box(1), box(7.3, 100))).toBeNull();
    expect(scaleMismatch(box(0), box(0))).toBeNull();
  });
});

describe('before anything is computed', () => {
  it('a heavy receiver and a light source with UVs may be the wrong way round, which one press exchanges', () => {
    const receivers = [input({ ...sphere('dense', 1, 40, 60), name: 'dense' })];
    const [finding] = preflight({ receivers, sources: [named('light')] }, settings);
    expect(finding).toMatchObject({ kind: 'swapped', severity: 'warning', remedy: { exchange: true } });
    expect(preflight({ receivers: [named('light')], sources: receivers }, settings)).toEqual([]);
  });

  it('a source of another unit is named with the scale that mends it', () => {
    const large = sphere('large', 100, 6, 8);
    const receivers = [input(sphere('small', 1, 6, 8))];
    const [finding] = preflight({ receivers, sources: [input(large)] }, settings);
    expect(finding!.kind).toBe('scale');
    const { sourceScale } = finding!.remedy!.change as { sourceScale: number };
    const scaled = scaleSources({ receivers: [], sources: [input(large)] }, { sourceScale } as never);
    const extent = boxOf(scaled.sources);
    expect(extent.max[0] - extent.min[0]).toBeCloseTo(2, 3);
  });

  it('sources that are scaled are others, and one that is not is the same', () => {
    const sources = [named('a')];
    const inputs = { receivers: [], sources };
    expect(scaleSources(inputs, { sourceScale: 1 } as never)).toBe(inputs);
    const scaled = scaleSources(inputs, { sourceScale: 2 } as never);
    expect(scaled.sources[0]!.hash).not.toBe(sources[0]!.hash);
    expect(scaled.sources[0]!.mesh.positions[0]).toBe(sources[0]!.mesh.positions[0]! * 2);
  });
});

describe('sources that repeat over a tile', () => {
  const receivers = [input(reliefPlane('tile', 1, 1))];
  const stone = input(sphere('stone', 0.2, 6, 8));

  it('are as many as the pattern says, and those that rays from the tile can meet beyond it', () => {
    const repeat = { grid: 'square', columns: 2, rows: 3 } as const;
    const given = { ...DEFAULT_BAKE, repeat, reach: { out: 0.1, in: 0.1 } } as never;
    const { inputs } = repeatSources({ receivers, sources: [stone] }, given);
    const copies = inputs.sources[0]!.mesh.indices.length / stone.mesh.indices.length;
    expect(Number.isInteger(copies)).toBe(true);
    expect(copies).toBeGreaterThanOrEqual(6);
    expect(inputs.sources[0]!.hash).toContain('repeated');
  });

  it('let occlusion look no farther than they go on', () => {
    const given = { ...DEFAULT_BAKE, maps: ['ao'], repeat: { grid: 'square', columns: 1, rows: 1 } } as never;
    const { settings: limited } = repeatSources({ receivers, sources: [stone] }, given);
    expect(limited.occlusion.distance).toBeCloseTo(2, 6);
    const none = { receivers, sources: [stone] };
    expect(repeatSources(none, settings).inputs).toBe(none);
  });
});

describe('inputs as they see each other', () => {
  const byName = {
    match: { receiverEndings: ['_low'], sourceEndings: ['_high'] },
    occlusion: DEFAULT_BAKE.occlusion,
  } as never;

  it('are all with all, or by their names', () => {
    const [a, b] = [named('a_low'), named('b_low')];
    const [x, y] = [named('a_high'), named('b_high')];
    const all = matchInputs({ receivers: [a, b], sources: [x, y] }, {
      match: 'all',
      occlusion: DEFAULT_BAKE.occlusion,
    } as never);
    expect(all.groups).toEqual([[x, y]]);
    const matched = matchInputs({ receivers: [a, b], sources: [y, x] }, byName);
    expect(matched.receivers.map(({ group }) => matched.groups[group]!.map(({ mesh }) => mesh.name))).toEqual([
      ['a_high'],
      ['b_high'],
    ]);
    expect(matched.findings).toEqual([]);
  });

  it('that see nothing are said, with the way out; and nothing at all is an error', () => {
    const found = matchInputs(
      { receivers: [named('a_low'), named('c_low')], sources: [named('a_high'), named('z_high')] },
      byName,
    );
    expect(found.receivers[1]!.group).toBe(NO_GROUP);
    expect(found.findings.map(({ sentence }) => sentence)).toEqual([
      expect.stringContaining('No source matches the name of “c_low”') as string,
      '“z_high” is seen by no receiver.',
    ]);
    expect(found.findings[0]!.remedy!.change).toEqual({ match: 'all' });
    expect(() => matchInputs({ receivers: [named('q_low')], sources: [named('a_high')] }, byName)).toThrow(
      /No receiver matches a source by name\. Receivers: “q_low”\. Sources: “a_high”\./,
    );
  });

  it('let named ones occlude, and refuse names that are not there', () => {
    const occluding = (occluders: unknown) =>
      matchInputs({ receivers: [named('r')], sources: [named('s'), named('t')] }, {
        match: 'all',
        occlusion: { ...DEFAULT_BAKE.occlusion, occluders },
      } as never).occluders;
    expect(occluding('own')).toBeNull();
    expect(occluding('all')).toBeNull();
    expect(occluding(['t'])!.map(({ mesh }) => mesh.name)).toEqual(['t']);
    expect(() => occluding(['u'])).toThrow(
      /None of the sources is named “u”, so nothing would occlude\. Choose among “s”, “t”\./,
    );
  });

  it('are listed in quotes, the first of many', () => {
    expect(listed(['a', 'b'])).toBe('“a”, “b”');
    expect(listed(Array.from({ length: 9 }, (_, i) => String(i)))).toMatch(/“5” and 3 more$/);
  });
});
