import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placesFor } from '../../pattern/domain.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { ROW, TexelRows } from './texelRows.ts';

const place = fc.tuple(...([0, 1, 2] as const).map(() => fc.double({ min: -1, max: 1, noNaN: true })));
const direction = place
  .filter((way) => Math.hypot(...way) > 0.1)
  .map((way) => way.map((value) => value / Math.hypot(...way)) as [number, number, number]);

describe('bounds of the rows of a block', () => {
  it('never leave out a texel that a dab reaches, nor pass one that lies too deep or turns away', () => {
    let along = 0;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(place, direction), { minLength: 1, maxLength: 12 }),
        // How much the normals of the row differ, and how far its texels lie from each other.
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        place,
        direction,
        fc.double({ min: 0.05, max: 2, noNaN: true }),
        (texels, rough, wide, at, normal, radius) => {
          const count = ROW + texels.length;
          const places = placesFor(TEXELS);
          const normals = new Float32Array(TEXELS * 3);
          for (const [i, [where, leans]] of texels.entries()) {
            const mean = leans.map((value, k) => value * rough + normal[k]! * (1.01 - rough));
            for (const k of [0, 1, 2] as const) {
              places[k][ROW + i] = where[k]! * wide;
              normals[k * TEXELS + ROW + i] = mean[k]! / Math.hypot(...mean);
            }
          }
          const rows = new TexelRows();
          rows.bound({ places, normals, count });
          const [nx, ny, nz] = normal;
          const [x, y, z] = at as [number, number, number];
          const isMet = rows.isMet(1, x, y, z, radius);
          const isAlong = rows.liesAlong(1, { x, y, z, nx, ny, nz }, radius * 0.6, 0.17);
          if (isAlong) along++;
          for (let i = ROW; i < count; i++) {
            const way = [0, 1, 2].map((k) => places[k as 0 | 1 | 2][i]! - at[k]!);
            const depth = way.reduce((sum, value, k) => sum + value * normal[k]!, 0);
            const cosine = normal.reduce((sum, value, k) => sum + value * normals[k * TEXELS + i]!, 0);
            if (Math.hypot(...way) < radius - 1e-6) expect(isMet).toBe(true);
            if (!isAlong) continue;
            expect(Math.abs(depth)).toBeLessThan(radius * 0.6 + 1e-6);
            expect(cosine).toBeGreaterThan(0.17 - 1e-6);
          }
        },
      ),
      { numRuns: 400 },
    );
    expect(along).toBeGreaterThan(20);
  });
});
