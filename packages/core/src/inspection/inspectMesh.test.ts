import { describe, expect, it } from 'vitest';
import { meshOf, reliefPlane, sphere } from '../testing/shapes.ts';
import { inspectMesh } from './inspectMesh.ts';
import { joinMeshes } from '../mesh/join.ts';
import { smoothNormals } from '../mesh/normals.ts';

const kinds = (mesh: Parameters<typeof inspectMesh>[0], options?: Parameters<typeof inspectMesh>[1]): string[] =>
  inspectMesh(mesh, options).findings.map(({ kind }) => kind);

describe('inspection', () => {
  it('finds nothing wrong with a closed sphere, though seams split its vertices', () => {
    expect(kinds(sphere('ball', 1, 12, 24))).toEqual([]);
  });

  it('counts the open edges of a plane: its border', () => {
    const { findings } = inspectMesh(reliefPlane('plane', 5, 1));
    expect(findings).toMatchObject([{ kind: 'open-edges', count: 20 }]);
  });

  it('finds one inside-out part among others', () => {
    const good = sphere('good', 1, 12, 24);
    const bad = sphere('bad', 1, 12, 24, true);
    for (let i = 0; i < bad.positions.length; i += 3) bad.positions[i]! += 1000;
    const { findings } = inspectMesh(joinMeshes('both', [good, bad]));
    // Both lie on the same layout, the inner one the other way round.
    const triangles = good.indices.length / 3;
    expect(findings).toMatchObject([
      { kind: 'overlapping-uvs', count: 2 * triangles },
      { kind: 'mirrored-uvs', count: triangles },
      { kind: 'inside-out', count: 1 },
    ]);
  });

  it('finds degenerate triangles, missing UVs, UVs outside the tile and what was dropped on reading', () => {
    const plane = reliefPlane('plane', 2, 1);
    const { positions, normals, uvSets } = plane;
    const flat = meshOf('flat', positions, normals, Uint32Array.of(0, 1, 2, 0, 1, 4), undefined);
    expect(kinds(flat, { droppedTriangles: 3, computedNormals: true })).toEqual([
      'not-finite',
      'no-uvs',
      'degenerate-triangles',
      'missing-normals',
      'open-edges',
    ]);
    uvSets[0]!.coords[0] = -0.4;
    expect(kinds(plane)).toContain('uvs-outside-tile');
  });
});

describe('smooth normals', () => {
  it('do not depend on how faces are triangulated: a cube corner points along its diagonal', () => {
    // Three faces at the origin, one of them split so that two of its triangles meet there.
    const positions = Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 1, 0, 0, 1, 1, 1, 0, 1]);
    const indices = Uint32Array.of(0, 2, 4, 0, 4, 1, 0, 3, 2, 2, 3, 5, 0, 1, 3, 1, 6, 3);
    const normals = smoothNormals(positions, indices);
    const third = -1 / Math.sqrt(3);
    for (let k = 0; k < 3; k++) expect(normals[k]).toBeCloseTo(third, 6);
  });
});
