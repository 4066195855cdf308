import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import type { Projection } from '../stack.ts';
import { flatSurface, layeredMeshes, layeredTile, type LayeredTile } from '../surface/layeredSurface.ts';
import { TEXELS, TexelBlock } from '../surface/texelBlock.ts';
import { projector, type Laying, type ProjectedPlane } from './projection.ts';

const SIZE = { width: 128, height: 128 };
const ball = layeredTile(layeredMeshes([sphere('ball', 50, 32, 64)], 0, 1), 1001, SIZE);
const square = layeredTile(layeredMeshes([reliefPlane('square', 2, 50)], 0, 1), 1001, SIZE);

const laid = (projection: Projection, change: Partial<Laying> = {}): Laying => ({
  ...{ projection, scale: 1, turn: 0, offset: [0, 0], varyBy: 'nothing' },
  ...change,
});

/** Takes up all texels of a tile, block by block. */
function eachBlock(
  laying: Laying,
  width: number,
  tile: LayeredTile,
  look: (planes: readonly ProjectedPlane[], block: TexelBlock) => void,
): void {
  const project = projector(laying, width, 1, tile);
  const block = new TexelBlock(tile);
  for (let number = 0; number < tile.plan.columns * tile.plan.rows; number++) {
    if (block.load(number) === 0) continue;
    project.project(block);
    look(project.planes, block);
  }
}

describe('a material along all three axes', () => {
  it('is weighted so that weights sum to 1, and most where the surface faces along the axis', () => {
    for (const sharpness of [1, 4, 16]) {
      eachBlock(laid({ by: 'triplanar', sharpness }), 20, ball, (planes, block) => {
        for (let i = 0; i < block.count; i++) {
          const weights = planes.map(({ weight, counts }) => (counts ? weight[i]! : 0));
          expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 3);
          const normal = [0, 1, 2].map((k) => Math.abs(block.normals[k * TEXELS + i]!));
          expect(weights.indexOf(Math.max(...weights))).toBe(normal.indexOf(Math.max(...normal)));
        }
      });
    }
  });

  it('is never mirrored: the material’s axes and the normal are right-handed on all sides', () => {
    eachBlock(laid({ by: 'triplanar', sharpness: 4 }, { turn: 30 }), 20, ball, (planes, block) => {
      planes.forEach(({ axes, counts }, k) => {
        if (!counts) return;
        for (let i = 0; i < block.count; i++) {
          const [r, u] = [axes!.right, axes!.up].map((axis) => [0, 1, 2].map((c) => axis[c * TEXELS + i]!)) as [
            number[],
            number[],
          ];
          const out = r[(k + 1) % 3]! * u[(k + 2) % 3]! - r[(k + 2) % 3]! * u[(k + 1) % 3]!;
          expect(out).toBeCloseTo(Math.sign(block.normals[k * TEXELS + i]!) || 1, 5);
        }
      });
    });
  });
});

describe('a projected material', () => {
  it('has its real size: places of the surface lie as far apart in it as in millimetres', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 5, max: 200, noNaN: true }),
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.double({ min: 0, max: 360, noNaN: true }),
        fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })),
        fc.constantFrom<Projection>(
          { by: 'planar', direction: [0, 0, 1] },
          { by: 'uv' },
          { by: 'triplanar', sharpness: 4 },
        ),
        (width, scale, turn, offset, projection) => {
          eachBlock(laid(projection, { scale, turn, offset }), width, square, (planes, block) => {
            const { places } = planes.find(({ counts, weight }) => counts && weight[0]! > 0.5)!;
            const [x, y] = block.places;
            for (const i of [1, block.count - 1]) {
              const inSpace = Math.hypot(x[i]! - x[0]!, y[i]! - y[0]!);
              const inTiles = Math.hypot(places.u[i]! - places.u[0]!, places.v[i]! - places.v[0]!);
              expect(inTiles * width * scale).toBeCloseTo(inSpace, 2);
            }
          });
        },
      ),
      { numRuns: 20 },
    );
  });

  it('takes a whole number of itself along a tile that repeats, so that it closes', () => {
    const tile = layeredTile(flatSurface(300, 200), 1001, SIZE);
    for (const width of [37, 90, 299, 1000]) {
      const project = projector(laid({ by: 'uv' }), width, 1, tile);
      const block = new TexelBlock(tile);
      block.load(0);
      project.project(block);
      const perTile = (project.planes[0]!.places.u[1]! - project.planes[0]!.places.u[0]!) * SIZE.width;
      expect(perTile, `${width} mm`).toBeCloseTo(Math.max(1, Math.round(300 / width)), 6);
    }
  });

  it('is another part of itself on each island, and the same everywhere else', () => {
    const shifts = new Map<number, string>();
    const own: number[][] = [];
    eachBlock(laid({ by: 'uv' }), 20, ball, (planes, { count }) =>
      own.push([...planes[0]!.places.u.subarray(0, count)]),
    );
    let number = 0;
    eachBlock(laid({ by: 'uv' }, { varyBy: 'island' }), 20, ball, (planes, block) => {
      const before = own[number++]!;
      for (let i = 0; i < block.count; i++) {
        const island = ball.surface.islands[block.triangles[i]!]!;
        const shift = (planes[0]!.places.u[i]! - before[i]!).toFixed(6);
        expect(shifts.get(island) ?? shift).toBe(shift);
        shifts.set(island, shift);
      }
    });
    expect(new Set(shifts.values()).size).toBe(shifts.size);
  });
});
