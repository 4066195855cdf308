import { describe, expect, it } from 'vitest';
import { sphere } from '../../testing/shapes.ts';
import { layeredMeshes } from './layeredSurface.ts';
import { viewOf } from './surfaceView.ts';

describe('what is seen of a surface', () => {
  it('is the near side of a sphere, as a disc that fits', () => {
    const surface = layeredMeshes([sphere('ball', 50, 64, 128)], 0, 1);
    const side = 100;
    const { pixels, places } = viewOf(surface, side, [0, 0, 1]);
    // The area of a disc of 94 px.
    expect(pixels.length / (Math.PI * 47 ** 2)).toBeCloseTo(1, 1);
    const { positions, indices } = surface.receiver;
    for (let i = 0; i < pixels.length; i += 37) {
      const corner = (c: number): number[] => {
        const v = indices[places.triangles[i]! * 3 + c]! * 3;
        return [...positions.subarray(v, v + 3)];
      };
      const [wb, wc] = [places.weights[i * 2]!, places.weights[i * 2 + 1]!];
      const at = [0, 1, 2].map((k) => corner(0)[k]! * (1 - wb - wc) + corner(1)[k]! * wb + corner(2)[k]! * wc);
      const [x, y] = [(pixels[i]! % side) + 0.5, Math.floor(pixels[i]! / side) + 0.5];
      // Straight ahead of its pixel, and turned to the eye.
      expect(at[0]).toBeCloseTo(((x - 50) / 94) * 100, 1);
      expect(at[1]).toBeCloseTo(((50 - y) / 94) * 100, 1);
      expect(at[2]).toBeGreaterThan(0);
    }
  });
});
