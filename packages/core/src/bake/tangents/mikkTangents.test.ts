import { generateTangents } from 'mikktspace';
import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../mesh/mesh.ts';
import { randomNumbers, reliefPlane, sphere } from '../../testing/shapes.ts';
import { toTangentSpace } from './tangentSpace.ts';
import { mikkTangents } from './mikkTangents.ts';

/** Frames of the reference implementation (Mikkelsen 2008), as the package `mikktspace` brings it. */
function referenceTangents(mesh: Mesh): Float32Array {
  const spread = (array: Float32Array, width: number): Float32Array =>
    Float32Array.from(
      { length: mesh.indices.length * width },
      (_, i) => array[mesh.indices[Math.floor(i / width)]! * width + (i % width)]!,
    );
  return generateTangents(spread(mesh.positions, 3), spread(mesh.normals, 3), spread(mesh.uvSets[0]!.coords, 2));
}

function ownTangents(mesh: Mesh): Float32Array {
  const { positions, normals, indices } = mesh;
  return mikkTangents({ positions, normals, indices, uvs: mesh.uvSets[0]!.coords });
}

function expectSameFrames(mesh: Mesh): void {
  const own = ownTangents(mesh);
  const reference = referenceTangents(mesh);
  let worst = 0;
  for (let i = 0; i < own.length; i++) worst = Math.max(worst, Math.abs(own[i]! - reference[i]!));
  expect(worst).toBeLessThan(2e-4);
}

/** Moves every vertex a little and leaves everything else, so that no symmetry hides a mistake. */
function shaken(mesh: Mesh, seed: number): Mesh {
  const random = randomNumbers(seed);
  const moved = new Map<string, number[]>();
  const positions = mesh.positions.slice();
  for (let v = 0; v < positions.length; v += 3) {
    const key = mesh.positions.subarray(v, v + 3).join();
    const shift = moved.get(key) ?? [0, 1, 2].map(() => (random() - 0.5) * 0.03);
    moved.set(key, shift);
    for (let k = 0; k < 3; k++) positions[v + k]! += shift[k]!;
  }
  const coords = mesh.uvSets[0]!.coords.map((value) => value + (random() - 0.5) * 0.01);
  return { ...mesh, positions, uvSets: [{ name: 'UV 1', coords }] };
}

describe('MikkTSpace frames', () => {
  it('equal the reference on a bumpy plane and a sphere', () => {
    expectSameFrames(
      shaken(
        reliefPlane('plane', 12, 1, (x, y) => 0.3 * Math.sin(3 * x) * y),
        1,
      ),
    );
    expectSameFrames(shaken(sphere('sphere', 1, 14, 24), 2));
  });

  it('equal the reference where UVs are mirrored along a seam', () => {
    const mesh = reliefPlane('mirrored', 10, 1, (x) => x * x * 0.4);
    const coords = mesh.uvSets[0]!.coords;
    for (let i = 0; i < coords.length; i += 2) coords[i] = Math.abs(coords[i]! - 0.5) * 2;
    expectSameFrames(mesh);
  });

  it('equal the reference beside triangles without area in space or in UV', () => {
    const mesh = shaken(reliefPlane('plane', 6, 1), 5);
    const coords = mesh.uvSets[0]!.coords;
    // Collapse the UVs of one vertex onto its neighbour, and one triangle in space.
    coords.copyWithin(2 * 9, 2 * 8, 2 * 9);
    mesh.positions.copyWithin(3 * 25, 3 * 24, 3 * 25);
    expectSameFrames(mesh);
  });
});

describe('the tangent-space vector', () => {
  it('gives the normal back through the shader formula n = t.x vT + t.y sign cross(vN, vT) + t.z vN', () => {
    const random = randomNumbers(11);
    const vector = (): Float64Array => Float64Array.from({ length: 3 }, () => random() * 2 - 1);
    const out = new Float64Array(3);
    for (let round = 0; round < 500; round++) {
      const vN = vector();
      const vT = vector();
      const n = vector();
      const length = Math.hypot(...n);
      const sign = random() < 0.5 ? 1 : -1;
      toTangentSpace(n[0]!, n[1]!, n[2]!, vN[0]!, vN[1]!, vN[2]!, vT[0]!, vT[1]!, vT[2]!, sign, out);
      const b = [0, 1, 2].map((k) => {
        const [i, j] = [(k + 1) % 3, (k + 2) % 3];
        return sign * (vN[i]! * vT[j]! - vN[j]! * vT[i]!);
      });
      const back = [0, 1, 2].map((k) => out[0]! * vT[k]! + out[1]! * b[k]! + out[2]! * vN[k]!);
      const backLength = Math.hypot(...back);
      for (let k = 0; k < 3; k++) expect(back[k]! / backLength).toBeCloseTo(n[k]! / length, 6);
    }
  });
});
