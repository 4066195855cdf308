import { describe, expect, it } from 'vitest';
import { bunny, reliefPlane, sphere, stanfordDragon } from '../../testing/index.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { checkLayout, type LayoutCheck } from '../check/checkLayout.ts';
import { islandNumbers } from '../islands/islands.ts';
import { layoutOf, type Layout } from '../layout.ts';
import { DEFAULT_PACK, packIslands, type Packed, type PackSettings } from '../pack/packIslands.ts';
import { unwrapDense, type CutMesh } from './unwrapDense.ts';

function packed(layout: Layout, islands: Uint32Array, settings: Partial<PackSettings> = {}): Packed {
  let last: Packed | undefined;
  for (const each of packIslands(layout, islands, { ...DEFAULT_PACK, edge: 4, ...settings })) last = each;
  return last!;
}

const laidOut = ({ mesh, flat, islands }: CutMesh, settings: Partial<PackSettings> = {}): Layout => {
  const layout = { positions: mesh.positions, uvs: flat, indices: mesh.indices };
  return { ...layout, uvs: packed(layout, islands, settings).uvs };
};

const check = (layout: Layout, padding = 4): LayoutCheck =>
  checkLayout(layout, { size: { width: 1024, height: 1024 }, padding, tiles: [1001] });

function expectSound(found: LayoutCheck): void {
  expect(found.overlaps.pairs).toBe(0);
  expect(found.flipped).toEqual([]);
  expect(found.outside).toEqual([]);
  expect(found.zeroArea).toEqual([]);
  expect(found.tooClose).toEqual([]);
}

describe('unwrapping a dense mesh', () => {
  it.each([
    ['a sphere', () => Promise.resolve(sphere('ball', 1, 60, 120))],
    ['the bunny', bunny],
    ['the dragon, with holes and faces that stand twice', () => stanfordDragon(4)],
  ])('lays %s flat with the gap that is asked for and nothing on anything else', async (_, meshOf) => {
    const mesh: Mesh = await meshOf();
    const found = check(laidOut(unwrapDense(mesh, 50), { passes: 1 }));
    expectSound(found);
    expect(found.triangles).toBe(mesh.indices.length / 3);
    expect(found.stretch.l2).toBeLessThan(1.01);
  });

  it('keeps lengths where that can be: a bent sheet is laid flat without stretch', () => {
    // A quarter of a cylinder: developable, so an isometric map exists (Gauss, Theorema egregium).
    const bent = reliefPlane('bent', 40, 0.7, (x) => Math.sqrt(1 - x * x));
    const { mesh, flat } = unwrapDense(bent, 60);
    const { stretch } = check({ positions: mesh.positions, uvs: flat, indices: mesh.indices }, 0);
    expect(stretch.linf).toBeLessThan(1.01);
  });

  it('cuts where it is told to', () => {
    const plane = reliefPlane('plane', 10, 1);
    const { islands } = unwrapDense(plane, 50, (here, there) => Math.floor(here / 60) !== Math.floor(there / 60));
    expect(new Set(islands).size).toBe(10);
  });
});

describe('packing', () => {
  const boxes = (sizes: readonly number[]): { layout: Layout; islands: Uint32Array } => {
    const planes = sizes.map((size) => reliefPlane('box', 1, size));
    const layout: Layout = {
      positions: Float32Array.from(
        planes.flatMap(({ positions }, i) => [...positions].map((x, k) => x + (k % 3 === 2 ? i : 0))),
      ),
      uvs: Float32Array.from(planes.flatMap(({ uvSets }) => [...uvSets[0]!.coords])),
      indices: Uint32Array.from(planes.flatMap(({ indices }, i) => [...indices].map((v) => v + i * 4))),
    };
    return { layout, islands: Uint32Array.from({ length: sizes.length * 2 }, (_, t) => Math.floor(t / 2)) };
  };

  it('gives every island the same texels for each mesh unit, and those asked for more their share', () => {
    const { layout, islands } = boxes([1, 2, 0.5]);
    const { uvs } = packed(layout, islands, { weightOf: (island) => (island === 1 ? 0.5 : 1) });
    const { ofTriangle } = check({ ...layout, uvs }).density;
    expect(ofTriangle[0]! / ofTriangle[4]!).toBeCloseTo(1, 4);
    expect(ofTriangle[2]! / ofTriangle[0]!).toBeCloseTo(0.5, 4);
  });

  it('fills the window, all tiles given, and a scale that is asked for', () => {
    const { layout, islands } = boxes([1, 1, 1, 1]);
    const inWindow = packed(layout, islands, { window: [0.5, 0, 1, 0.5] }).uvs;
    inWindow.forEach((value, i) => {
      if (i % 2 === 0) expect(value).toBeGreaterThanOrEqual(0.5);
      else expect(value).toBeLessThanOrEqual(0.5);
    });
    // Four squares into four tiles: each fills its own.
    const { uvs, coverage } = packed(layout, islands, { tiles: [1001, 1002, 1011, 1012] });
    expect(coverage).toBeGreaterThan(0.95);
    expect(new Set([...islands.keys()].map((t) => Math.floor(uvs[layout.indices[t * 3]! * 2]!)))).toEqual(
      new Set([0, 1]),
    );
    const given = packed(layout, islands, { scale: 100 });
    expect(check({ ...layout, uvs: given.uvs }).density.mean).toBeCloseTo(100, 2);
  });

  it('keeps clear of islands that stay where they are', () => {
    const { layout, islands } = boxes([1, 1, 1]);
    for (let v = 0; v < 4; v++) {
      layout.uvs[v * 2] = 0.3 + layout.uvs[v * 2]! * 0.4;
      layout.uvs[v * 2 + 1] = 0.3 + layout.uvs[v * 2 + 1]! * 0.4;
    }
    const { uvs } = packed(layout, islands, { isLocked: (island) => island === 0 });
    expect(uvs.slice(0, 8)).toEqual(layout.uvs.slice(0, 8));
    const found = check({ ...layout, uvs });
    expect(found.overlaps.pairs).toBe(0);
    expect(found.tooClose).toEqual([]);
  });

  it('of a thousand islands into 64 px is refused with the size that would do', () => {
    const { layout, islands } = boxes(Array.from({ length: 1000 }, () => 1));
    const small = { size: { width: 64, height: 64 }, passes: 1 };
    expect(() => packed(layout, islands, small)).toThrow(/1000 islands.*64 × 64 px at any scale\. Use at least 256 px/);
    const size = { width: 256, height: 256 };
    const { uvs } = packed(layout, islands, { size, passes: 1 });
    expect(checkLayout({ ...layout, uvs }, { size, padding: 4, tiles: [1001] }).tooClose).toEqual([]);
  });

  it('does better with more passes, never worse, and can be stopped after any', () => {
    const mesh = sphere('ball', 1, 12, 24);
    const { mesh: cut, flat, islands } = unwrapDense(mesh, 50);
    const layout = { positions: cut.positions, uvs: flat, indices: cut.indices };
    const scales = [...packIslands(layout, islands, { ...DEFAULT_PACK, passes: 4 })].map(({ scale }) => scale);
    expect(scales).toEqual(scales.toSorted((a, b) => a - b));
  });

  it('keeps islands as they are on a sheet that is not square', () => {
    const plane = reliefPlane('plane', 2, 1);
    const layout = layoutOf(plane, 0);
    const size = { width: 1024, height: 512 };
    const { uvs } = packed(layout, islandNumbers(layout), { size });
    const extent = (k: number): number =>
      Math.max(...uvs.filter((_, i) => i % 2 === k)) - Math.min(...uvs.filter((_, i) => i % 2 === k));
    expect((extent(0) * 1024) / (extent(1) * 512)).toBeCloseTo(1, 4);
  });
});
