import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { joinMeshes } from '../mesh/join.ts';
import { triangleCount, vertexCount, type Mesh } from '../mesh/mesh.ts';
import { addUvSet } from '../mesh/uvSets.ts';
import { reliefPlane, sphere } from '../testing/shapes.ts';
import { borderCorners } from './borders.ts';
import { islandBoxes } from './islands/islandBoxes.ts';
import { islandNumbers } from './islands/islands.ts';
import { doubleUvArea, isWithinTile, layoutOf, mirroredTriangles, uvMiddle } from './layout.ts';
import { layoutFingerprint } from './layoutFingerprint.ts';
import { seamsOf } from './seams.ts';
import { splitMesh } from './splitMesh.ts';
import { FIRST_TILE, LAST_TILE, tileAt, tileOrigin, tilesOf } from './udim.ts';

/** The mesh with its UVs somewhere else. */
const moved = (mesh: Mesh, du: number, dv: number): Mesh => ({
  ...mesh,
  uvSets: mesh.uvSets.map((set) => ({
    ...set,
    coords: set.coords.map((value, i) => value * 0.9 + 0.05 + (i % 2 === 0 ? du : dv)),
  })),
});
const named = (mesh: Mesh, name: string, slot: string): Mesh => ({ ...mesh, name, slots: [slot] });

describe('UDIM numbers (common practice, no source)', () => {
  it('begin where they say, and are found again anywhere within', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: FIRST_TILE, max: LAST_TILE }),
        fc.double({ min: 0, max: 0.999, noNaN: true }),
        fc.double({ min: 0, max: 0.999, noNaN: true }),
        (tile, u, v) => {
          const [left, bottom] = tileOrigin(tile);
          expect(tileAt(left + u, bottom + v)).toBe(tile);
        },
      ),
    );
    expect([tileOrigin(1001), tileOrigin(1010), tileOrigin(1011)]).toEqual([
      [0, 0],
      [9, 0],
      [0, 1],
    ]);
  });

  it('are none beside, below and above the hundred rows of ten', () => {
    expect([tileAt(-0.1, 0), tileAt(10, 0), tileAt(0, -0.1), tileAt(0, 100), tileAt(NaN, 0)]).toEqual([
      null,
      null,
      null,
      null,
      null,
    ]);
  });

  it('of a layout are listed in order, with how many triangles lie in each', () => {
    const mesh = joinMeshes('all', [
      moved(reliefPlane('a', 2, 1), 1, 1),
      moved(reliefPlane('b', 1, 1), 0, 0),
      moved(reliefPlane('c', 1, 1), 40, 0),
    ]);
    const { tiles, outside } = tilesOf(mesh.uvSets[0]!.coords, mesh.indices);
    expect([...tiles]).toEqual([
      [1001, 2],
      [1012, 8],
    ]);
    expect(outside).toBe(2);
  });
});

describe('where a layout is cut', () => {
  it('is nowhere within a grid, and along the meridian of a sphere', () => {
    expect(seamsOf(layoutOf(reliefPlane('plane', 5, 1), 0))).toEqual([]);
    const ball = sphere('ball', 1, 8, 12);
    const layout = layoutOf(ball, 0);
    const seams = seamsOf(layout);
    // Rings less the two of triangles at the poles are cut once; the fans at the poles between each two triangles.
    const atMeridian = seams.filter(({ here }) =>
      here.every((corner) => Math.abs(ball.positions[ball.indices[corner]! * 3 + 1]!) < 1e-6),
    );
    expect(atMeridian.length).toBeGreaterThanOrEqual(6);
    for (const { here, there } of seams) {
      for (const k of [0, 1]) {
        const [a, b] = [ball.indices[here[k]!]!, ball.indices[there[k]!]!];
        for (let axis = 0; axis < 3; axis++)
          expect(ball.positions[a * 3 + axis]).toBeCloseTo(ball.positions[b * 3 + axis]!, 12);
      }
    }
  });

  it('has borders all round each island, and none where triangles of one island meet', () => {
    const cells = 4;
    const mesh = joinMeshes('two', [moved(reliefPlane('a', cells, 1), 0, 0), moved(reliefPlane('b', cells, 1), 0, 0)]);
    const layout = layoutOf(mesh, 0);
    // They lie on each other, and are two for all that.
    const islands = Uint32Array.from({ length: triangleCount(mesh) }, (_, t) => (t < cells * cells * 2 ? 0 : 1));
    const borders = borderCorners(layout, islands);
    expect(borders).toHaveLength(2 * 4 * cells);
    expect(islandBoxes(layout, islands).every((value) => value > 0.04 && value < 0.96)).toBe(true);
  });
});

describe('what a layout is known by', () => {
  const plane = reliefPlane('plane', 3, 1);

  it('is the same whatever order its triangles and corners come in, and through whatever file', () => {
    const own = layoutFingerprint(layoutOf(plane, 0));
    expect(own).toMatch(/^[0-9a-f]{32}$/);
    fc.assert(
      fc.property(
        fc.shuffledSubarray([...Array(18).keys()], { minLength: 18 }),
        fc.array(fc.nat(2), { minLength: 18, maxLength: 18 }),
        (order, turns) => {
          const indices = Uint32Array.from(
            order.flatMap((t, i) => [0, 1, 2].map((c) => plane.indices[t * 3 + ((c + turns[i]!) % 3)]!)),
          );
          const uvs = plane.uvSets[0]!.coords.map((value) => value + 1e-8);
          expect(layoutFingerprint({ uvs, indices })).toBe(own);
        },
      ),
    );
  });

  it('is another as soon as one UV is moved by a texel of the largest map, or one triangle is turned over', () => {
    const own = layoutFingerprint(layoutOf(plane, 0));
    fc.assert(
      fc.property(fc.nat(31), fc.constantFrom(1, -1), (at, sign) => {
        const uvs = plane.uvSets[0]!.coords.slice();
        uvs[at]! += sign / 16384;
        expect(layoutFingerprint({ uvs, indices: plane.indices })).not.toBe(own);
      }),
    );
    const turned = plane.indices.slice();
    [turned[1], turned[2]] = [turned[2]!, turned[1]!];
    expect(layoutFingerprint({ uvs: plane.uvSets[0]!.coords, indices: turned })).not.toBe(own);
  });
});

describe('triangles of a layout', () => {
  it('have areas that add up, and middles within', () => {
    const layout = layoutOf(moved(reliefPlane('plane', 5, 1), 0, 0), 0);
    let area = 0;
    for (let t = 0; t < layout.indices.length / 3; t++) {
      area += doubleUvArea(layout, t) / 2;
      const [u, v] = uvMiddle(layout, t);
      expect(u > 0.05 && u < 0.95 && v > 0.05 && v < 0.95).toBe(true);
      expect(isWithinTile(layout, t)).toBe(true);
      expect(isWithinTile(layout, t, 1, 0)).toBe(false);
    }
    expect(area).toBeCloseTo(0.81, 5);
  });

  it('that are mirrored are the fewer ones, whichever way round the layout is', () => {
    const layout = layoutOf(reliefPlane('plane', 3, 1), 0);
    expect(mirroredTriangles(layout)).toEqual([]);
    const whole = { ...layout, uvs: layout.uvs.map((value, i) => (i % 2 === 0 ? 1 - value : value)) };
    expect(mirroredTriangles(whole)).toEqual([]);
    const some = joinMeshes('some', [
      reliefPlane('a', 2, 1),
      { ...reliefPlane('b', 1, 1), uvSets: [{ name: 'UV 1', coords: Float32Array.from([1, 0, 0, 0, 1, 1, 0, 1]) }] },
    ]);
    expect(mirroredTriangles(layoutOf(some, 0))).toEqual([8, 9]);
  });

  it('of a set that is not there are asked for in vain, by what there is', () => {
    const bare = { ...reliefPlane('rope', 1, 1), uvSets: [] };
    expect(() => layoutOf(bare, 0)).toThrow(/“rope” has no UVs, so there is nowhere to put a map\. Unwrap it/);
    const two = addUvSet(reliefPlane('deck', 1, 1), { name: 'Paint', coords: new Float32Array(8) }, 'last');
    expect(() => layoutOf(two, 2)).toThrow(
      /“deck” has 2 UV sets, so there is no number 3\. Choose one of: UV 1, Paint\./,
    );
  });
});

describe('a mesh taken apart', () => {
  const parts = [
    named(moved(reliefPlane('a', 2, 1), 0, 0), 'a', 'brass'),
    named(moved(sphere('b', 1, 4, 6), 1, 0), 'b', 'rope'),
    named(
      moved(
        reliefPlane('c', 1, 1, () => 9),
        0,
        0,
      ),
      'c',
      'brass',
    ),
  ];
  const mesh = {
    ...joinMeshes('kit', parts),
    colors: new Float32Array(parts.reduce((sum, part) => sum + vertexCount(part), 0) * 4).fill(0.5),
  };

  it.each([
    [{ by: 'slot' }, ['kit, brass', 'kit, rope']],
    [{ by: 'part' }, ['kit, part 1', 'kit, part 2', 'kit, part 3']],
    [{ by: 'tile', uvSet: 0 }, ['kit, tile 1001', 'kit, tile 1002']],
    [{ by: 'islands', uvSet: 0, islands: [0] }, ['kit, detached', 'kit, rest']],
  ] as const)('%j is named after what it is, and joined again all is there', (how, names) => {
    const pieces = splitMesh(mesh, how);
    expect(pieces.map(({ name }) => name)).toEqual(names);
    expect(pieces.reduce((sum, piece) => sum + triangleCount(piece), 0)).toBe(triangleCount(mesh));
    const all = joinMeshes('kit', pieces);
    const corners = (of: Mesh): string[] =>
      [...of.indices].map((v) =>
        [
          ...of.positions.subarray(v * 3, v * 3 + 3),
          ...of.uvSets[0]!.coords.subarray(v * 2, v * 2 + 2),
          of.colors![v * 4],
        ].join(),
      );
    expect(corners(all).sort()).toEqual(corners(mesh).sort());
    for (const piece of pieces) {
      // What a piece does not use is not in it.
      expect(new Set(piece.indices).size).toBe(vertexCount(piece));
      expect(new Set(piece.triangleSlots).size).toBe(piece.slots.length);
    }
  });

  it('keeps stacks of which two islands are left', () => {
    const stacked = {
      ...mesh,
      uvSets: [
        {
          ...mesh.uvSets[0]!,
          shared: [
            [0, triangleCount(mesh) - 1],
            [1, 10],
          ],
        },
      ],
    };
    const [brass] = splitMesh(stacked, { by: 'slot' });
    expect(brass!.uvSets[0]!.shared).toHaveLength(1);
    expect(islandNumbers(layoutOf(brass!, 0)).length).toBe(triangleCount(brass!));
  });
});
