import { describe, expect, it } from 'vitest';
import { degenerateTriangles, type Mesh } from '@zographos/core/mesh';
import { checkLayout, doubleUvArea, layoutOf, type LayoutCheck } from '@zographos/core/uv';
import { meshOf, reliefPlane, sphere, splitSphere } from '@zographos/core/testing';
import { layoutOperation } from './operation.ts';
import { layoutSettings, type LayoutSettings } from './settings.ts';
import { layOut } from './layOut.ts';
import { layOutOnThread } from './layOutOnThread.ts';

const settingsOf = (part: Partial<LayoutSettings> = {}): LayoutSettings =>
  layoutSettings.parse({ method: 'unwrap', size: { width: 512, height: 512 }, gap: 4, edge: 4, passes: 1, ...part });

/** All meshes of one layout together, as they lie on their first UV set. */
function check(meshes: readonly Mesh[], size = { width: 512, height: 512 }): LayoutCheck {
  const vertices = meshes.map(({ positions }) => positions.length / 3);
  const layouts = meshes.map((mesh) => layoutOf(mesh, 0));
  const first = (i: number): number => vertices.slice(0, i).reduce((sum, count) => sum + count, 0);
  return checkLayout(
    {
      // Apart in space, so that objects do not hang together by chance.
      positions: Float32Array.from(layouts.flatMap(({ positions }, i) => [...positions].map((x) => x + i * 10))),
      uvs: Float32Array.from(layouts.flatMap(({ uvs }) => [...uvs])),
      indices: Uint32Array.from(layouts.flatMap(({ indices }, i) => [...indices].map((v) => v + first(i)))),
    },
    { size, padding: 4, tiles: [1001] },
  );
}

function expectSound(found: LayoutCheck): void {
  expect(found.overlaps.pairs).toBe(0);
  expect(found.flipped).toEqual([]);
  expect(found.outside).toEqual([]);
  expect(found.tooClose).toEqual([]);
}

/** A box of six sides, each with its own normals. */
function box(name: string): Mesh {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const axis of [0, 1, 2]) {
    for (const side of [-1, 1]) {
      const first = positions.length / 3;
      for (const [a, b] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const) {
        const point = [0, 0, 0];
        point[axis] = side;
        point[(axis + 1) % 3] = a * side;
        point[(axis + 2) % 3] = b;
        positions.push(...point);
      }
      indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
    }
  }
  const flat = Float32Array.from(positions);
  return meshOf(
    name,
    flat,
    flat.map((value) => value / Math.sqrt(3)),
    Uint32Array.from(indices),
  );
}

/** A flat ring that rises a little as it winds, so that its turns lie above each other. */
function ramp(turns: number, steps: number): Mesh {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i <= steps; i++) {
    const angle = (i / steps) * turns * 2 * Math.PI;
    for (const radius of [1, 2]) positions.push(radius * Math.cos(angle), radius * Math.sin(angle), angle * 0.02);
    if (i > 0) indices.push(i * 2 - 2, i * 2 - 1, i * 2 + 1, i * 2 - 2, i * 2 + 1, i * 2);
  }
  const flat = Float32Array.from(positions);
  return meshOf(
    'ramp',
    flat,
    flat.map((_, i) => (i % 3 === 2 ? 1 : 0)),
    Uint32Array.from(indices),
  );
}

describe('laying out', () => {
  it('gives triangles without area no room, and keeps them', async () => {
    for (const [ball, light] of [
      [splitSphere('ball', 1, 8, 16), true],
      [splitSphere('ball', 1, 42, 80), false],
    ] as const) {
      const poles = degenerateTriangles(ball.positions, ball.indices);
      expect(poles).toHaveLength(light ? 32 : 160);
      const { meshes } = await layOut([ball, box('crate')], settingsOf());
      expectSound(check(meshes));
      const [laid] = meshes as [Mesh, Mesh];
      expect(laid.indices.length).toBe(ball.indices.length);
      // Each corner is where it was in space, and each triangle without area on one point of the layout.
      ball.indices.forEach((v, i) => {
        for (let k = 0; k < 3; k++) {
          expect(laid.positions[laid.indices[i]! * 3 + k]).toBe(ball.positions[v * 3 + k]);
        }
      });
      for (const t of poles) expect(doubleUvArea(layoutOf(laid, 0), t)).toBe(0);
      // Packed as it lies, it fills as much of the tile as without them.
      const packed = await layOut([ball], settingsOf({ method: 'pack' }));
      const solid = { ...ball, indices: ball.indices.filter((_, i) => !poles.includes(Math.floor(i / 3))) };
      solid.triangleSlots = new Uint16Array(solid.indices.length / 3);
      const bare = await layOut([solid], settingsOf({ method: 'pack' }));
      expect(packed.coverage).toBeCloseTo(bare.coverage, 6);
    }
  });

  it('lays a ramp that winds over itself without a place twice', async () => {
    const { meshes, overlaps } = await layOut([ramp(2.5, 120)], settingsOf());
    expect(overlaps).toEqual({ pairs: 0, places: [] });
    expectSound(check(meshes));
  });

  it('takes a mesh that has no area at all', async () => {
    const thread = meshOf(
      'thread',
      Float32Array.of(0, 0, 0, 1, 1, 1, 2, 2, 2),
      new Float32Array(9).fill(1),
      Uint32Array.of(0, 1, 2),
    );
    const { meshes } = await layOut([thread, box('crate')], settingsOf());
    expectSound(check(meshes));
    expect(meshes[0]!.indices).toHaveLength(3);
  });

  it('puts several objects onto one layout, with their old UV sets behind the new one', async () => {
    const ball = sphere('ball', 1, 16, 32);
    const { meshes, coverage } = await layOut([ball, box('crate')], settingsOf());
    expectSound(check(meshes));
    expect(coverage).toBeGreaterThan(0.4);
    expect(meshes[0]!.uvSets.map(({ name }) => name)).toEqual(['Layout', ball.uvSets[0]!.name]);
    expect(meshes[0]!.indices.length).toBe(ball.indices.length);
    // What was on the old set is where it was: at every corner the same place and UV.
    ball.indices.forEach((v, i) => {
      const own = meshes[0]!.indices[i]!;
      expect(meshes[0]!.uvSets[1]!.coords[own * 2]).toBe(ball.uvSets[0]!.coords[v * 2]);
      expect(meshes[0]!.positions[own * 3]).toBe(ball.positions[v * 3]);
    });
  });

  it('keeps the same spacing as texels or as a share of the tile', async () => {
    const size = { width: 512, height: 512 };
    const uvs = async (gap: number | { share: number }) => {
      const settings = layoutSettings.parse({ method: 'unwrap', size, gap, edge: gap, passes: 1 });
      return (await layOut([box('cube')], settings)).meshes[0]!.uvSets[0]!.coords;
    };
    expect(await uvs({ share: 0.03125 })).toEqual(await uvs(16));
    expect(await uvs(16)).not.toEqual(await uvs(8));
    const sentence = layoutOperation.sentence(
      layoutSettings.parse({ method: 'unwrap', size, gap: { share: 0.005 }, edge: 4 }),
      { receivers: ['cube'], sources: [] },
      'mm',
    );
    expect(sentence.map(({ text }) => text).join('')).toContain(
      'island spacing 0.5 % of the tile and tile margin 4 px',
    );
  });

  it('gives a hidden object half the texels if asked, and each a layout of its own if asked', async () => {
    const two = [sphere('shown', 1, 12, 24), sphere('hidden', 1, 12, 24)];
    const { ofTriangle } = check((await layOut(two, settingsOf({ weights: { hidden: 0.5 } }))).meshes).density;
    const half = ofTriangle.length / 2;
    const mean = (values: Float32Array): number => values.reduce((sum, value) => sum + value, 0) / values.length;
    expect(mean(ofTriangle.subarray(half)) / mean(ofTriangle.subarray(0, half))).toBeCloseTo(0.5, 2);
    const apart = (await layOut(two, settingsOf({ together: false }))).meshes;
    for (const mesh of apart) expectSound(check([mesh]));
  });

  it('packs what is there without cutting it, and on a sheet that is not square keeps its shape', async () => {
    const plane = reliefPlane('plane', 2, 1);
    const size = { width: 1024, height: 256 };
    const once = (await layOut([plane], settingsOf({ method: 'pack', size }))).meshes[0]!;
    expect(once.indices).toEqual(plane.indices);
    const again = (await layOut([once], settingsOf({ method: 'pack', size }))).meshes[0]!;
    for (const mesh of [once, again]) {
      expect(checkLayout(layoutOf(mesh, 0), { size, padding: 4, tiles: [1001] }).density.mean).toBeCloseTo(124, -1);
      const [u, v] = [0, 1].map((k) => {
        const along = mesh.uvSets[0]!.coords.filter((_, i) => i % 2 === k);
        return Math.max(...along) - Math.min(...along);
      }) as [number, number];
      expect((u * 1024) / (v * 256)).toBeCloseTo(1, 4);
    }
  });

  it('lays out a soup: an edge of three faces, a face without area, one that stands twice', async () => {
    const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0, 2, 0, 0);
    const indices = Uint32Array.of(0, 1, 2, 1, 0, 3, 0, 1, 4, 0, 1, 5, 0, 1, 2);
    const soup = meshOf(
      'soup',
      positions,
      positions.map((_, i) => (i % 3 === 2 ? 1 : 0)),
      indices,
    );
    const { meshes } = await layOut([soup], settingsOf());
    const found = check(meshes);
    expect(found.triangles).toBe(5);
    expect(found.overlaps.pairs).toBe(0);
    expect(found.outside).toEqual([]);
  });

  it('is cancelled on its thread within a second, and says so', async () => {
    const cancel = new AbortController();
    const work = layOutOnThread([sphere('dense', 1, 300, 600)], settingsOf(), () => cancel.abort(), cancel.signal);
    await expect(work).rejects.toMatchObject({ code: 'run/cancelled' });
  });

  it('says what is missing: a layout to pack', async () => {
    const bare: Mesh = { ...sphere('bare', 1, 4, 8), uvSets: [] };
    await expect(layOutOnThread([bare], settingsOf({ method: 'pack' }))).rejects.toMatchObject({
      code: 'input/no-uvs',
    });
  });
});

describe('islands that stay', () => {
  it.each(['unwrap', 'pack'] as const)('are neither cut nor moved, and are kept clear of (%s)', async (method) => {
    const cube = box('cube');
    const first = (await layOut([cube], settingsOf({ passes: 1 }))).meshes[0]!;
    // The side that is its first two triangles.
    const before = [...first.indices.subarray(0, 6)].map((v) => [
      ...first.uvSets[0]!.coords.subarray(v * 2, v * 2 + 2),
    ]);
    const locked = [[0]];
    const { meshes } = await layOut([first], settingsOf({ method, locked, scale: method === 'pack' ? 'fill' : 60 }));
    const [mesh] = meshes;
    const after = [...mesh!.indices.subarray(0, 6)].map((v) => [...mesh!.uvSets[0]!.coords.subarray(v * 2, v * 2 + 2)]);
    expect(after).toEqual(before);
    expect(mesh!.indices.length).toBe(cube.indices.length);
    expectSound(check([mesh!]));
  });
});
