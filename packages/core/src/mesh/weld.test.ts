import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { weldPositions, weldVertices } from './weld.ts';

describe('welding', () => {
  const few = fc.constantFrom(0, -0, 1, 1.5, -2, 1e-30);

  it('gives the first vertex of the same values, as a table by text does', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(few, few, few, few, few), { maxLength: 40 }), (vertices) => {
        const positions = Float32Array.from(vertices.flatMap(([x, y, z]) => [x, y, z]));
        const uvs = Float32Array.from(vertices.flatMap(([, , , u, v]) => [u, v]));
        const first = (name: (i: number) => string): number[] => {
          const known = new Map<string, number>();
          return vertices.map((_, i) => {
            const own = known.get(name(i)) ?? i;
            known.set(name(i), own);
            return own;
          });
        };
        const text = (values: Float32Array): string => [...values].map((value) => value + 0).join();
        const place = (i: number): string => text(positions.subarray(i * 3, i * 3 + 3));
        const whole = (i: number): string => `${place(i)} ${text(uvs.subarray(i * 2, i * 2 + 2))}`;
        expect([...weldPositions(positions)]).toEqual(first(place));
        expect([
          ...weldVertices([
            [positions, 3],
            [uvs, 2],
          ]),
        ]).toEqual(first(whole));
      }),
    );
  });
});
