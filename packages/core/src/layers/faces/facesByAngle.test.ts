import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../mesh/mesh.ts';
import { sphere } from '../../testing/shapes.ts';
import { facesByAngle, grownFaces, rangesOfFaces } from './facesByAngle.ts';
import { layeredMeshes } from '../surface/layeredSurface.ts';

const ball: Mesh = sphere('ball', 10, 12, 24);
const surface = layeredMeshes([ball], 0, 1);
const all = surface.receiver.indices.length / 3;
const count = (faces: Uint8Array): number => faces.reduce((sum, value) => sum + value, 0);

describe('faces picked on a mesh', () => {
  it('go on over edges that are flat enough, and no further', () => {
    // Rings of the ball are 15° apart, columns at its equator too.
    expect(count(facesByAngle([all / 2], 20, surface))).toBe(all);
    expect(count(facesByAngle([all / 2], 2, surface))).toBeLessThan(4);
  });

  it('grow by a row of faces at a time, over the cut of the layout', () => {
    let faces = new Uint8Array(all);
    faces[0] = 1;
    const sizes = [1];
    while (sizes.at(-1)! < all && sizes.length < 40) {
      const next = grownFaces(faces, surface);
      for (let t = 0; t < all; t++) if (faces[t]) expect(next[t]).toBe(1);
      faces = next as Uint8Array<ArrayBuffer>;
      sizes.push(count(faces));
    }
    // From pole to pole, a ring each time.
    expect(sizes.length).toBeLessThanOrEqual(14);
    expect(sizes.at(-1)).toBe(all);
  });

  it('are kept as ranges', () => {
    expect(rangesOfFaces(Uint8Array.of(1, 1, 0, 0, 1, 0, 1, 1))).toEqual([
      [0, 2],
      [4, 5],
      [6, 8],
    ]);
    expect(rangesOfFaces(new Uint8Array(3))).toEqual([]);
  });
});
