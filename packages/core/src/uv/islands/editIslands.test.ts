import { describe, expect, it } from 'vitest';
import { joinMeshes } from '../../mesh/join.ts';
import { splitMesh } from '../splitMesh.ts';
import { arrangeUvSets } from '../../mesh/uvSets.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { checkLayout } from '../check/checkLayout.ts';
import { afterwards, moveIslands, shiftBy, turnAndScale } from './editIslands.ts';
import { evenDensityMoves } from './islandBoxes.ts';
import { islandNumbers } from './islands.ts';
import { layoutFingerprint } from '../layoutFingerprint.ts';
import { layoutOf } from '../layout.ts';
import { shareIslands } from './stackedIslands.ts';
import { measureTexelDensity } from '../check/texelDensity.ts';

const options = { size: { width: 512, height: 512 }, padding: 4, tiles: [1001] };

/** Two planes of one mesh, one above the other in space and side by side in the layout. */
function twoPlanes(): Mesh {
  const [left, right] = [reliefPlane('left', 4, 1), reliefPlane('right', 4, 1, () => 5)];
  for (const [i, { uvSets }] of [left, right].entries()) {
    const { coords } = uvSets[0]!;
    for (let v = 0; v < coords.length; v += 2) coords[v] = coords[v]! * 0.4 + 0.05 + i * 0.5;
    for (let v = 1; v < coords.length; v += 2) coords[v] = coords[v]! * 0.4 + 0.05;
  }
  left.slots = ['brass'];
  right.slots = ['steel'];
  return joinMeshes('plate', [left, right]);
}

describe('moving islands', () => {
  it('moves those that are meant, and turns by quarters exactly, on maps of any shape', () => {
    const mesh = twoPlanes();
    const before = mesh.uvSets[0]!.coords;
    const moved = moveIslands(mesh, 0, [{ islands: [1], matrix: shiftBy(1, 2) }]).uvSets[0]!.coords;
    const half = before.length / 2;
    expect(moved.subarray(0, half)).toEqual(before.subarray(0, half));
    expect(moved[half]).toBe(Math.fround(before[half]! + 1));
    expect(moved[half + 1]).toBe(Math.fround(before[half + 1]! + 2));
    // Four quarter turns, one after the other, change nothing.
    const quarter = turnAndScale([0.25, 0.25], 90, [1, 1], 2);
    expect([quarter, quarter, quarter].reduce(afterwards, quarter)).toEqual(
      [1, 0, 0, 1, 0, 0].map((x) => expect.closeTo(x, 12) as number),
    );
    // On a map twice as wide as high, a length of 0.1 along u is one of 0.2 along v.
    const [a, b] = turnAndScale([0, 0], 90, [1, 1], 2);
    expect([a * 0.1, b * 0.1]).toEqual([0, 0.2]);
  });

  it('refuses to scale to nothing, or to move out of reach', () => {
    const mesh = twoPlanes();
    const move = (matrix: Parameters<typeof moveIslands>[2][number]['matrix']) => () =>
      moveIslands(mesh, 0, [{ islands: [0], matrix }]);
    expect(move([0, 0, 0, 0, 0, 0])).toThrow('scaled to nothing');
    expect(move(shiftBy(1e6, 0))).toThrow('1000 tiles');
  });

  it('gives islands the mean density when that is asked for', () => {
    const mesh = moveIslands(twoPlanes(), 0, [{ islands: [1], matrix: turnAndScale([0.7, 0.2], 0, [0.5, 0.5]) }]);
    const islands = islandNumbers(layoutOf(mesh, 0));
    const even = moveIslands(mesh, 0, evenDensityMoves(layoutOf(mesh, 0), islands, [0, 1]));
    const { min, max } = measureTexelDensity(layoutOf(even, 0), options.size);
    expect(max / min).toBeCloseTo(1, 4);
  });
});

describe('islands that share their room', () => {
  it('are no overlap, wherever else their marks go', () => {
    const mesh = moveIslands(twoPlanes(), 0, [{ islands: [1], matrix: shiftBy(-0.5, 0) }]);
    const overlaps = (of: Mesh): number =>
      checkLayout(layoutOf(of, 0), { ...options, shared: of.uvSets[0]!.shared }).overlaps.pairs;
    expect(overlaps(mesh)).toBeGreaterThan(0);
    const shared = shareIslands(mesh, 0, [0, 1], true);
    expect(overlaps(shared)).toBe(0);
    expect(checkLayout(layoutOf(shared, 0), { ...options, shared: shared.uvSets[0]!.shared }).tooClose).toEqual([]);
    // Joined behind another mesh, triangles have other numbers.
    const behind = joinMeshes('both', [
      moveIslands(sphere('ball', 1, 8, 16), 0, [{ islands: [0], matrix: shiftBy(3, 0) }]),
      shared,
    ]);
    expect(overlaps(behind)).toBe(0);
    expect(overlaps(shareIslands(shared, 0, [0], false))).toBeGreaterThan(0);
  });
});

describe('splitting', () => {
  it('keeps UVs, normals and slots, and joined again all is there', () => {
    const mesh = twoPlanes();
    for (const how of [{ by: 'slot' }, { by: 'part' }, { by: 'islands', uvSet: 0, islands: [1] }] as const) {
      const pieces = splitMesh(mesh, how);
      expect(pieces.map(({ slots }) => slots).sort()).toEqual([['brass'], ['steel']]);
      const again = joinMeshes('again', pieces);
      expect(again.indices.length).toBe(mesh.indices.length);
      expect(layoutFingerprint(layoutOf(again, 0))).toBe(layoutFingerprint(layoutOf(mesh, 0)));
    }
  });
});

describe('the fingerprint of a layout', () => {
  it('does not depend on the order of triangles, corners and sets, but on every island', () => {
    const mesh = twoPlanes();
    const known = layoutFingerprint(layoutOf(mesh, 0));
    const turned = new Uint32Array(mesh.indices.length);
    for (let t = 0; t < turned.length; t += 3) {
      const [a, b, c] = mesh.indices.subarray(turned.length - 3 - t, turned.length - t);
      turned.set([b!, c!, a!], t);
    }
    expect(layoutFingerprint(layoutOf({ ...mesh, indices: turned }, 0))).toBe(known);
    const other = { ...mesh, uvSets: [{ name: 'other', coords: mesh.uvSets[0]!.coords.slice() }, ...mesh.uvSets] };
    expect(layoutFingerprint(layoutOf(arrangeUvSets(other, [1, 0]), 0))).toBe(known);
    const moved = moveIslands(mesh, 0, [{ islands: [1], matrix: shiftBy(1 / 4096, 0) }]);
    expect(layoutFingerprint(layoutOf(moved, 0))).not.toBe(known);
    const mirrored = moveIslands(mesh, 0, [{ islands: [1], matrix: turnAndScale([0.75, 0.25], 0, [-1, 1]) }]);
    expect(layoutFingerprint(layoutOf(mirrored, 0))).not.toBe(known);
  });
});
