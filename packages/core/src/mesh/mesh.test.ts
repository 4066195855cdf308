import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reliefPlane, sphere } from '../testing/shapes.ts';
import { boundsOf, diagonal } from './bounds.ts';
import { connectedPieces } from './connected.ts';
import { meanCurvature } from './curvature.ts';
import { eachSharedEdge, edgeLength, nextCorner } from './edges.ts';
import { joinMeshes } from './join.ts';
import { PLAIN_MATERIAL, UNMOVED, type PictureUse } from './material.ts';
import { triangleCount, vertexCount, type Mesh } from './mesh.ts';
import { angleWeightedNormals, smoothNormals } from './normals.ts';
import { pickVertices } from './pickVertices.ts';
import { triangleArea } from './triangleArea.ts';
import { facesAlong, triangleFace } from './triangleFace.ts';
import { addUvSet, arrangeUvSets, projectedUvs, removeUvSet, renameUvSet, uvSetFirst, withUvSet } from './uvSets.ts';
import { weldPositions } from './weld.ts';

const float = fc.float({ min: -100, max: 100, noNaN: true });
const points = (least: number, most: number) =>
  fc
    .array(fc.tuple(float, float, float), { minLength: least, maxLength: most })
    .map((list) => Float32Array.from(list.flat()));

const use = (uvSet: number): PictureUse => ({
  ...{ picture: 0, uvSet, wrap: ['repeat', 'repeat'], transform: UNMOVED, channel: 0 },
});

/** A corner of a cube: three faces over eight corners, each face with vertices of its own. */
function box(): Mesh {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1, (i >> 1) & 1, (i >> 2) & 1]);
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const positions = Float32Array.from(faces.flatMap((face) => face.flatMap((corner) => corners[corner]!)));
  const indices = Uint32Array.from(faces.flatMap((_, f) => [0, 1, 2, 0, 2, 3].map((corner) => f * 4 + corner)));
  return {
    ...reliefPlane('box', 1, 1),
    positions,
    indices,
    normals: angleWeightedNormals(positions, indices),
    uvSets: [{ name: 'UV 1', coords: new Float32Array(48) }],
    triangleSlots: new Uint16Array(12),
  };
}

describe('bounds', () => {
  it('hold every position, and touch one on each side', () => {
    fc.assert(
      fc.property(points(1, 20), (positions) => {
        const { min, max } = boundsOf(positions);
        for (let axis = 0; axis < 3; axis++) {
          const values = [...positions].filter((_, i) => i % 3 === axis);
          expect([min[axis], max[axis]]).toEqual([Math.min(...values), Math.max(...values)]);
        }
        expect(diagonal({ min, max })).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it('of nothing are inverted and infinite, so that any point becomes the box', () => {
    expect(boundsOf(new Float32Array(0))).toEqual({
      min: [Infinity, Infinity, Infinity],
      max: [-Infinity, -Infinity, -Infinity],
    });
  });
});

describe('welding', () => {
  it('gives the first vertex of each place, whatever the sign of zero', () => {
    fc.assert(
      fc.property(points(1, 12), fc.array(fc.nat(11), { maxLength: 20 }), (own, copies) => {
        const count = own.length / 3;
        const all = Float32Array.from([
          ...own,
          ...copies.flatMap((i) => [...own.subarray((i % count) * 3, (i % count) * 3 + 3)]),
        ]);
        const welded = weldPositions(all);
        for (let v = 0; v < welded.length; v++) {
          const place = (i: number): string => [...all.subarray(i * 3, i * 3 + 3)].map((value) => value + 0).join();
          const first = Array.from({ length: v + 1 }, (_, i) => i).find((i) => place(i) === place(v));
          expect(welded[v]).toBe(first);
        }
      }),
    );
    expect([...weldPositions(Float32Array.from([0, 0, 0, -0, 0, -0]))]).toEqual([0, 0]);
  });
});

describe('connected pieces', () => {
  it('are numbered as they appear, and touch nowhere', () => {
    const two = joinMeshes('two', [sphere('a', 1, 4, 6), reliefPlane('b', 2, 1), sphere('c', 2, 4, 6)]);
    const pieces = connectedPieces(weldPositions(two.positions), two.indices);
    const counts = [0, 1, 2].map((piece) => pieces.filter((each) => each === piece).length);
    expect(counts).toEqual([triangleCount(sphere('a', 1, 4, 6)), 8, triangleCount(sphere('c', 2, 4, 6))]);
    expect(pieces.toSorted()).toEqual(pieces);
  });
});

describe('edges', () => {
  it('of a closed mesh are shared by two triangles each: E = 3T / 2, and V − E + T = 2 (Euler)', () => {
    for (const mesh of [sphere('ball', 1, 8, 12), box()]) {
      let edges = 0;
      eachSharedEdge(mesh.positions, mesh.indices, (here, there) => {
        edges++;
        const at = (corner: number): string => {
          const v = mesh.indices[corner]!;
          return [...mesh.positions.subarray(v * 3, v * 3 + 3)].map((value) => value + 0).join();
        };
        // The other triangle runs along it the other way.
        expect(at(here)).toBe(at(nextCorner(there)));
        expect(at(nextCorner(here))).toBe(at(there));
      });
      const triangles = triangleCount(mesh);
      expect(edges).toBe((triangles * 3) / 2);
      expect(new Set(weldPositions(mesh.positions)).size - edges + triangles).toBe(2);
    }
  });

  it('go round their triangle, and are as long as Pythagoras says', () => {
    expect([0, 1, 2, 3, 4, 5].map(nextCorner)).toEqual([1, 2, 0, 4, 5, 3]);
    expect(edgeLength(Float32Array.from([0, 0, 0, 3, 4, 12]), 0, 1)).toBe(13);
  });
});

describe('areas and faces', () => {
  it('of a box add up to its surface, and every face looks away from its middle', () => {
    const mesh = box();
    const face = new Float64Array(9);
    let area = 0;
    for (let t = 0; t < triangleCount(mesh); t++) {
      area += triangleArea(mesh.positions, 3, mesh.indices, t);
      triangleFace(mesh, t, face);
      expect(Math.hypot(face[6]!, face[7]!, face[8]!) / 2).toBeCloseTo(
        triangleArea(mesh.positions, 3, mesh.indices, t),
        12,
      );
      const a = mesh.indices[t * 3]! * 3;
      const out = [0, 1, 2].map((k) => mesh.positions[a + k]! - 0.5);
      expect(facesAlong(mesh, t, out[0]!, out[1]!, out[2]!)).toBe(true);
      expect(facesAlong(mesh, t, -out[0]!, -out[1]!, -out[2]!)).toBe(false);
    }
    expect(area).toBeCloseTo(6, 12);
  });

  it('in UV space are those of the square they fill', () => {
    const { uvSets, indices } = reliefPlane('plane', 5, 3);
    let area = 0;
    for (let t = 0; t < indices.length / 3; t++) area += triangleArea(uvSets[0]!.coords, 2, indices, t);
    expect(area).toBeCloseTo(1, 6);
  });
});

describe('normals', () => {
  it('at the corner of a box point along its diagonal, however its sides are cut (Thürmer & Wüthrich 1998)', () => {
    const mesh = box();
    const normals = smoothNormals(mesh.positions, mesh.indices);
    for (let v = 0; v < vertexCount(mesh); v++) {
      for (let k = 0; k < 3; k++) {
        const sign = mesh.positions[v * 3 + k]! > 0.5 ? 1 : -1;
        expect(normals[v * 3 + k]).toBeCloseTo(sign / Math.sqrt(3), 6);
      }
    }
  });

  it('of unwelded faces are those of the faces', () => {
    const { normals } = box();
    for (let v = 0; v < 24; v++) {
      const parts = [...normals.subarray(v * 3, v * 3 + 3)].map(Math.abs).sort();
      expect(parts).toEqual([0, 0, 1]);
    }
  });

  it('turn with the mesh', () => {
    const mesh = sphere('ball', 1, 6, 8);
    const turned = mesh.positions.map((_, i) => {
      const [x, y, z] = mesh.positions.subarray(i - (i % 3), i - (i % 3) + 3);
      return [y!, z!, x!][i % 3]!;
    });
    const before = smoothNormals(mesh.positions, mesh.indices);
    const after = smoothNormals(turned, mesh.indices);
    for (let v = 0; v < before.length / 3; v++) {
      for (let k = 0; k < 3; k++) expect(after[v * 3 + k]).toBeCloseTo(before[v * 3 + ((k + 1) % 3)]!, 5);
    }
  });

  it('where nothing says one are z', () => {
    expect([...angleWeightedNormals(new Float32Array(9), Uint32Array.from([0, 1, 2]))]).toEqual([
      0, 0, 1, 0, 0, 1, 0, 0, 1,
    ]);
  });
});

describe('mean curvature', () => {
  it('of a sphere is one over its radius, inwards less than nothing (Rusinkiewicz 2004)', () => {
    for (const radius of [0.5, 1, 4]) {
      const ball = sphere('ball', radius, 40, 80);
      // At the poles of the grid its triangles are slivers.
      const off = [...meanCurvature(ball, 0)].filter((_, v) => Math.abs(ball.positions[v * 3 + 2]!) < radius * 0.9);
      for (const value of off) expect(Math.abs(value * radius - 1)).toBeLessThan(0.02);
      const hollow = sphere('hollow', radius, 40, 80, true);
      expect(Math.max(...meanCurvature(hollow, 0))).toBeLessThan(0);
    }
  });

  it('of a plane is nothing, and averaging over a radius keeps that of a sphere', () => {
    const flat = meanCurvature(reliefPlane('plane', 6, 1), 0);
    for (const value of flat) expect(Math.abs(value)).toBeLessThan(1e-6);
    const ball = sphere('ball', 2, 24, 48);
    const smooth = meanCurvature(ball, 0.5);
    const mean = smooth.reduce((sum, value) => sum + value, 0) / smooth.length;
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.02);
  });
});

describe('joined meshes', () => {
  it('have all triangles with their own positions, UVs and slots', () => {
    const a: Mesh = { ...sphere('a', 1, 4, 6), slots: ['brass'] };
    const b: Mesh = {
      ...addUvSet(reliefPlane('b', 2, 1), { name: 'Layout', coords: new Float32Array(18).fill(0.25) }, 'last'),
      slots: ['paint', 'brass'],
    };
    const joined = joinMeshes('both', [a, b]);
    expect([vertexCount(joined), triangleCount(joined)]).toEqual([
      vertexCount(a) + vertexCount(b),
      triangleCount(a) + triangleCount(b),
    ]);
    expect(joined.slots).toEqual(['brass', 'paint']);
    expect(joined.slots[joined.triangleSlots[triangleCount(a)]!]).toBe('paint');
    const corner = joined.indices[triangleCount(a) * 3]!;
    expect([...joined.positions.subarray(corner * 3, corner * 3 + 3)]).toEqual([...b.positions.subarray(0, 3)]);
    expect(joined.uvSets.map(({ name }) => name)).toEqual(['UV 1', 'Layout']);
    // What has no second set gets zeros there.
    expect(new Set(joined.uvSets[1]!.coords.subarray(0, vertexCount(a) * 2))).toEqual(new Set([0]));
  });

  it('number the triangles of shared islands anew, and find pictures by what they are', () => {
    const picture = { name: 'rust.png', bytes: new Uint8Array([1]) };
    const part = (name: string): Mesh => {
      const plane = reliefPlane(name, 1, 1);
      return {
        ...withUvSet(plane, 0, { shared: [[0, 1]] }),
        slots: [name],
        materials: [{ ...PLAIN_MATERIAL, pictures: { basecolor: use(0) } }],
        pictures: [picture],
      };
    };
    const joined = joinMeshes('both', [part('a'), part('b')]);
    expect(joined.uvSets[0]!.shared).toEqual([
      [0, 1],
      [2, 3],
    ]);
    expect(joined.pictures).toEqual([picture]);
    expect(joined.materials!.map(({ pictures }) => pictures.basecolor!.picture)).toEqual([0, 0]);
  });

  it('have white where one has colours and another none', () => {
    const plain = reliefPlane('a', 1, 1);
    const red: Mesh = { ...plain, colors: Float32Array.from({ length: 16 }, (_, i) => [1, 0, 0, 1][i % 4]!) };
    const { colors } = joinMeshes('both', [plain, red]);
    expect([...colors!.subarray(0, 4), ...colors!.subarray(16, 20)]).toEqual([1, 1, 1, 1, 1, 0, 0, 1]);
  });
});

describe('picked vertices', () => {
  it('are copies of their sources in all they have', () => {
    const mesh: Mesh = { ...reliefPlane('a', 2, 1, (x, y) => x * y), colors: new Float32Array(36).map((_, i) => i) };
    const sources = Uint32Array.from([4, 0, 8, 4]);
    const picked = pickVertices(mesh, sources, Uint32Array.from([0, 1, 2]));
    sources.forEach((source, v) => {
      expect(picked.positions.subarray(v * 3, v * 3 + 3)).toEqual(mesh.positions.subarray(source * 3, source * 3 + 3));
      expect(picked.uvSets[0]!.coords.subarray(v * 2, v * 2 + 2)).toEqual(
        mesh.uvSets[0]!.coords.subarray(source * 2, source * 2 + 2),
      );
      expect(picked.colors!.subarray(v * 4, v * 4 + 4)).toEqual(mesh.colors!.subarray(source * 4, source * 4 + 4));
    });
  });
});

describe('UV sets', () => {
  const plane = reliefPlane('deck', 1, 1);
  const set = (name: string) => ({ name, coords: new Float32Array(8) });
  const three = addUvSet(addUvSet(plane, set('Paint'), 'last'), set('Light'), 'last');
  const names = (mesh: Mesh): string[] => mesh.uvSets.map(({ name }) => name);

  it('are added before or behind, under names that are theirs alone', () => {
    expect(names(addUvSet(plane, set('UV 1')))).toEqual(['UV 1 2', 'UV 1']);
    expect(names(addUvSet(addUvSet(plane, set('UV 1')), set('UV 1')))).toEqual(['UV 1 3', 'UV 1 2', 'UV 1']);
    expect(names(three)).toEqual(['UV 1', 'Paint', 'Light']);
  });

  it('change places, and pictures of materials go along', () => {
    const dressed: Mesh = { ...three, materials: [{ ...PLAIN_MATERIAL, pictures: { normal: use(2) } }], pictures: [] };
    const turned = uvSetFirst(dressed, 2);
    expect(names(turned)).toEqual(['Light', 'UV 1', 'Paint']);
    expect(turned.materials![0]!.pictures.normal!.uvSet).toBe(0);
    fc.assert(
      fc.property(fc.shuffledSubarray([0, 1, 2], { minLength: 3 }), (order) => {
        const moved = arrangeUvSets(dressed, order);
        expect(moved.uvSets[moved.materials![0]!.pictures.normal!.uvSet]!.name).toBe('Light');
      }),
    );
  });

  it('that a picture lies on are not removed, by the name of the slot', () => {
    const dressed: Mesh = {
      ...three,
      slots: ['brass'],
      materials: [{ ...PLAIN_MATERIAL, pictures: { normal: use(1) } }],
    };
    expect(() => removeUvSet(dressed, 1)).toThrow(/“brass” lie on “Paint”/);
    expect(names(removeUvSet(dressed, 0))).toEqual(['Paint', 'Light']);
  });

  it('are not given a name twice', () => {
    expect(() => renameUvSet(three, 0, 'Paint')).toThrow(/“deck” has a UV set “Paint” already/);
    expect(names(renameUvSet(three, 0, 'UV 1'))).toEqual(['UV 1', 'Paint', 'Light']);
  });

  it('projected along any axis fit into the first tile, and touch its borders', () => {
    const mesh = reliefPlane('long', 4, 10, (x, y) => (x + y) / 10);
    for (const axis of [0, 1, 2] as const) {
      const uvs = projectedUvs(mesh, axis);
      expect(Math.min(...uvs)).toBe(0);
      expect(Math.max(...uvs)).toBeCloseTo(1, 6);
    }
  });
});
