import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { USUAL_ENDINGS } from './matching.ts';
import { proposeInputs, type Candidate } from './proposal.ts';

/** A mesh over a box of side 2 about a place. */
const mesh = (name: string, triangles: number, x = 0, uvSets = 1): Candidate => ({
  ...{ id: name, name, triangles, uvSets },
  bounds: { min: [x - 1, -1, -1], max: [x + 1, 1, 1] },
});
const nobody = (): boolean => false;

describe('what a new ticket begins with', () => {
  it('is all pairs of names at once, matched by name', () => {
    const parts = Array.from({ length: 30 }, (_, i) => String(i).padStart(2, '0'));
    const meshes = [
      ...parts.map((part, i) => mesh(`part${part}_high`, 10_000 + i, i * 5, 0)),
      ...parts.map((part, i) => mesh(`part${part}_low`, 300 - i, i * 5)),
    ];
    const proposal = proposeInputs(meshes, nobody)!;
    expect(proposal.receivers).toEqual(parts.map((part) => `part${part}_low`));
    expect(proposal.sources).toEqual(parts.map((part) => `part${part}_high`));
    expect(proposal.match).toEqual(USUAL_ENDINGS);
  });

  it('is one pair without matching where only one pairs, and the next where that has a ticket', () => {
    const meshes = [mesh('ant', 90), mesh('bell_low', 100), mesh('bell_high', 9000), mesh('bell_high.001', 9000)];
    expect(proposeInputs(meshes, nobody)).toEqual({
      receivers: ['bell_low'],
      sources: ['bell_high', 'bell_high.001'],
      match: 'all',
    });
    const more = [...meshes, mesh('oar_low', 50), mesh('oar_high', 5000)];
    expect(proposeInputs(more, (id) => id === 'bell_low')).toMatchObject({ receivers: ['oar_low'], match: 'all' });
  });

  it('else is a light mesh with the dense ones in its place', () => {
    const meshes = [mesh('rope', 400, 40), mesh('float', 500), mesh('scan', 90_000), mesh('far scan', 90_000, 90)];
    expect(proposeInputs(meshes, nobody)).toMatchObject({ receivers: ['float'], sources: ['scan'] });
  });

  it('else all dense meshes, and none that is as light', () => {
    const apart = [mesh('float', 500), mesh('first', 80_000, 40, 0), mesh('second', 90_000, 80, 0)];
    expect(proposeInputs(apart, nobody)).toMatchObject({ receivers: ['float'], sources: ['first', 'second'] });
    const three = [mesh('ant', 300), mesh('bee', 350), mesh('cat', 400)];
    expect(proposeInputs(three, nobody)).toMatchObject({ receivers: ['ant'], sources: [] });
    expect(proposeInputs([mesh('scan', 90_000, 0, 0)], nobody)).toBeNull();
  });

  it('is never a mesh that bakes from itself, and always has UVs', () => {
    const any = fc.record({
      name: fc.constantFrom('a_low', 'a_high', 'b_low', 'b_high', 'c', 'd light', 'd dense'),
      triangles: fc.integer({ min: 1, max: 1e6 }),
      x: fc.integer({ min: -3, max: 3 }),
      uvSets: fc.integer({ min: 0, max: 2 }),
    });
    fc.assert(
      fc.property(fc.array(any, { maxLength: 8 }), fc.boolean(), (list, isTaken) => {
        const meshes = list.map(({ name, triangles, x, uvSets }, i) => ({
          ...mesh(name, triangles, x, uvSets),
          id: String(i),
        }));
        const proposal = proposeInputs(meshes, () => isTaken);
        if (!proposal) {
          expect(meshes.every(({ uvSets }) => uvSets === 0)).toBe(true);
          return;
        }
        const { receivers, sources } = proposal;
        expect(receivers.length).toBeGreaterThan(0);
        expect(receivers.filter((id) => sources.includes(id))).toEqual([]);
        for (const id of receivers) expect(meshes.find((each) => each.id === id)!.uvSets).toBeGreaterThan(0);
      }),
    );
  });
});
