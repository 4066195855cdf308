import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { srgbToLinear } from '@zographos/core/color';
import { PLAIN_MATERIAL, type Mesh } from '@zographos/core/mesh';
import { DEFAULT_LIMITS } from '../limits.ts';
import type { NamedFile } from './meshFile.ts';
import { packMesh, unpackMesh } from './packedMesh.ts';
import { GrowingFloats, GrowingInts } from './read/growing.ts';
import { readMeshFile } from './read/readMeshFile.ts';
import { triangulatePolygon } from './read/triangulate.ts';
import { writeMeshFiles, type MeshOutFormat } from './write/writeMeshFiles.ts';

const coordinate = fc.float({ min: -1e4, max: 1e4, noNaN: true });

/** Any triangles with any number of UV sets, slots and colours; each vertex has one normal of length 1. */
const anyMesh: fc.Arbitrary<Mesh> = fc
  .record({
    triangles: fc.integer({ min: 1, max: 12 }),
    uvSets: fc.integer({ min: 0, max: 3 }),
    slots: fc.integer({ min: 1, max: 3 }),
    hasColors: fc.boolean(),
  })
  .chain(({ triangles, uvSets, slots, hasColors }) => {
    const vertices = triangles * 3;
    const floats = (count: number, arbitrary = coordinate) =>
      fc.array(arbitrary, { minLength: count, maxLength: count }).map((values) => Float32Array.from(values));
    return fc.record({
      name: fc.constantFrom('Net float', 'Quay-ring', 'Bell'),
      positions: floats(vertices * 3).map((values) => {
        // Corners of one triangle that fall together would make one without area.
        for (let t = 0; t < triangles; t++) {
          values.set([t, 0, 0, t + 1, 0.5, 0, t, 1, values[t * 9]! / 1e4], t * 9);
        }
        return values;
      }),
      normals: fc.constant(Float32Array.from({ length: vertices * 3 }, (_, i) => [0.6, 0, 0.8][i % 3]!)),
      uvSets: fc
        .tuple(...Array.from({ length: uvSets }, () => floats(vertices * 2, fc.float({ min: 0, max: 1, noNaN: true }))))
        .map((sets) => sets.map((coords, i) => ({ name: `UV ${i + 1}`, coords }))),
      colors: hasColors ? floats(vertices * 4, fc.constantFrom(0, 0.25, 0.5, 1)) : fc.constant(null),
      indices: fc.constant(Uint32Array.from({ length: vertices }, (_, i) => i)),
      slots: fc.constant(Array.from({ length: slots }, (_, i) => `slot ${i}`)),
      triangleSlots: fc
        .array(fc.integer({ min: 0, max: slots - 1 }), { minLength: triangles, maxLength: triangles })
        .map((list) => Uint16Array.from(list.sort((a, b) => a - b))),
    });
  });

async function thereAndBack(mesh: Mesh, format: MeshOutFormat): Promise<Mesh> {
  const files: NamedFile[] = await writeMeshFiles('float', [mesh], format);
  const companion = (name: string): Promise<Uint8Array | null> =>
    Promise.resolve(files.find((file) => file.name === name)?.bytes ?? null);
  const { objects } = await readMeshFile({ ...files[0]!, companion, limits: DEFAULT_LIMITS });
  expect(objects).toHaveLength(1);
  return objects[0]!.mesh;
}

/** What each corner of each triangle has, whatever number its vertex got. */
const corners = (mesh: Mesh, what: Float32Array, size: number): number[][] =>
  // Text knows no negative zero.
  [...mesh.indices].map((vertex) => [...what.subarray(vertex * size, vertex * size + size)].map((value) => value + 0));

const runs = { numRuns: 25 };

describe('any mesh', () => {
  it('packed is the same, and the same bytes each time', () => {
    fc.assert(
      fc.property(anyMesh, (mesh) => {
        const bytes = packMesh(mesh);
        expect(unpackMesh(bytes)).toEqual(mesh);
        expect(packMesh(unpackMesh(bytes))).toEqual(bytes);
        // A slice of a larger buffer, as it comes over the network, need not be aligned.
        const shifted = new Uint8Array(bytes.length + 3);
        shifted.set(bytes, 3);
        expect(unpackMesh(shifted.subarray(3))).toEqual(mesh);
      }),
      runs,
    );
  });

  it('packed with materials, pictures and shared islands keeps them', () => {
    fc.assert(
      fc.property(anyMesh, fc.uint8Array({ maxLength: 40 }), (plain, picture) => {
        const mesh: Mesh = {
          ...plain,
          uvSets: plain.uvSets.map((set) => ({ ...set, shared: [[0, 1]] })),
          materials: plain.slots.map(() => PLAIN_MATERIAL),
          pictures: [{ name: 'rust.png', bytes: picture }],
        };
        expect(unpackMesh(packMesh(mesh))).toEqual(mesh);
      }),
      runs,
    );
  });

  it('packed and cut off anywhere is refused', () => {
    fc.assert(
      fc.property(anyMesh, fc.double({ min: 0, max: 0.999, noNaN: true }), (mesh, share) => {
        const bytes = packMesh(mesh);
        expect(() => unpackMesh(bytes.subarray(0, Math.floor(bytes.length * share)))).toThrow(/packed mesh|JSON/);
      }),
      runs,
    );
  });

  it('as OBJ keeps triangles in order, positions, normals, the first UV set and slots to the last bit', async () => {
    await fc.assert(
      fc.asyncProperty(anyMesh, async (mesh) => {
        const back = await thereAndBack(mesh, 'obj');
        expect(corners(back, back.positions, 3)).toEqual(corners(mesh, mesh.positions, 3));
        expect(corners(back, back.normals, 3)).toEqual(corners(mesh, mesh.normals, 3));
        expect(back.uvSets).toHaveLength(Math.min(1, mesh.uvSets.length));
        if (mesh.uvSets[0]) {
          expect(corners(back, back.uvSets[0]!.coords, 2)).toEqual(corners(mesh, mesh.uvSets[0].coords, 2));
        }
        expect([...back.triangleSlots].map((slot) => back.slots[slot])).toEqual(
          [...mesh.triangleSlots].map((slot) => mesh.slots[slot]),
        );
      }),
      runs,
    );
  });

  it('as PLY keeps triangles in order, positions, normals and all UV sets to the last bit', async () => {
    await fc.assert(
      fc.asyncProperty(anyMesh, async (mesh) => {
        const back = await thereAndBack(mesh, 'ply');
        expect(corners(back, back.positions, 3)).toEqual(corners(mesh, mesh.positions, 3));
        expect(back.uvSets).toHaveLength(mesh.uvSets.length);
        mesh.uvSets.forEach(({ coords }, set) =>
          expect(corners(back, back.uvSets[set]!.coords, 2)).toEqual(corners(mesh, coords, 2)),
        );
      }),
      runs,
    );
  });

  it('as GLB keeps triangles by slot, positions and UV sets, whose v it turns round and back', async () => {
    await fc.assert(
      fc.asyncProperty(anyMesh, async (mesh) => {
        const back = await thereAndBack(mesh, 'glb');
        expect(corners(back, back.positions, 3)).toEqual(corners(mesh, mesh.positions, 3));
        expect(back.uvSets.map(({ name }) => name)).toEqual(mesh.uvSets.map(({ name }) => name));
        mesh.uvSets.forEach(({ coords }, set) => {
          const written = corners(mesh, coords, 2).flat();
          corners(back, back.uvSets[set]!.coords, 2)
            .flat()
            .forEach((value, i) => expect(Math.abs(value - written[i]!)).toBeLessThan(1e-7));
        });
        if (mesh.colors) {
          // glTF keeps colours as light, alpha as it is.
          const written = corners(mesh, mesh.colors, 4).flatMap(([r, g, b, a]) => [
            ...[r, g, b].map((c) => srgbToLinear(c!)),
            a,
          ]);
          corners(back, back.colors!, 4)
            .flat()
            .forEach((value, i) => expect(Math.abs(value - written[i]!)).toBeLessThan(1e-5));
        }
      }),
      runs,
    );
  });
});

describe('a polygon', () => {
  const ring = (count: number, radius: (i: number) => number): number[] =>
    Array.from({ length: count }, (_, i) => {
      const angle = (i / count) * 2 * Math.PI;
      return [radius(i) * Math.cos(angle), radius(i) * Math.sin(angle), 0];
    }).flat();
  const areaOf = (points: number[], triangles: number[]): number => {
    let sum = 0;
    for (let t = 0; t < triangles.length; t += 3) {
      const [a, b, c] = triangles.slice(t, t + 3).map((corner) => points.slice(corner * 3, corner * 3 + 2));
      sum += ((b![0]! - a![0]!) * (c![1]! - a![1]!) - (b![1]! - a![1]!) * (c![0]! - a![0]!)) / 2;
    }
    return sum;
  };
  const shoelace = (points: number[]): number => {
    let sum = 0;
    for (let i = 0; i < points.length; i += 3) {
      const j = (i + 3) % points.length;
      sum += (points[i]! * points[j + 1]! - points[j]! * points[i + 1]!) / 2;
    }
    return sum;
  };

  it('of n corners is n − 2 triangles that cover its area once, all turning as it does (shoelace formula)', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.3, max: 2, noNaN: true }), { minLength: 3, maxLength: 14 }), (radii) => {
        const points = ring(radii.length, (i) => radii[i]!);
        const triangles = triangulatePolygon(points);
        expect(triangles).toHaveLength((radii.length - 2) * 3);
        expect(areaOf(points, triangles)).toBeCloseTo(shoelace(points), 9);
        for (let t = 0; t < triangles.length; t += 3) {
          expect(areaOf(points, triangles.slice(t, t + 3))).toBeGreaterThan(-1e-12);
        }
      }),
    );
  });

  it('without area keeps its corners', () => {
    expect(triangulatePolygon([0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0, 4, 0, 0])).toHaveLength(9);
  });
});

describe('lists that grow', () => {
  it('hold what was pushed, beyond their first size', () => {
    const floats = new GrowingFloats();
    const ints = new GrowingInts();
    for (let i = 0; i < 3000; i += 3) {
      floats.push3(i / 2, (i + 1) / 2, (i + 2) / 2);
      for (let k = 0; k < 3; k++) ints.push(i + k);
    }
    expect([floats.length, floats.at(2047), floats.view().length]).toEqual([3000, 1023.5, 3000]);
    expect([ints.length, ints.at(2048), ints.view().at(-1)]).toEqual([3000, 2048, 2999]);
  });
});
