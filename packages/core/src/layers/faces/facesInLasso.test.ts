import { describe, expect, it } from 'vitest';
import { sphere } from '../../testing/shapes.ts';
import { facesInMap, facesInView } from './facesInLasso.ts';
import { layeredMeshes, layeredTile } from '../surface/layeredSurface.ts';

const RADIUS = 10;
/** From far away along z. @param width of the view where the ball is */
const DISTANCE = 1000;
const viewOf = (width: number): number[] => [
  ...[DISTANCE / width, 0, -0.5, 0.5 * DISTANCE],
  ...[0, DISTANCE / width, -0.5, 0.5 * DISTANCE],
  ...[0, 0, -1, DISTANCE],
];
const square = (low: number, high: number): number[] => [low, low, high, low, high, high, low, high];
const area = (faces: Uint8Array, { positions, indices }: { positions: Float32Array; indices: Uint32Array }): number => {
  let sum = 0;
  for (let t = 0; t < faces.length; t++) {
    if (!faces[t]) continue;
    const [a, b, c] = [0, 1, 2].map((k) => {
      const at = indices[t * 3 + k]! * 3;
      return [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    }) as [number[], number[], number[]];
    const [u, v] = [b.map((x, k) => x - a[k]!), c.map((x, k) => x - a[k]!)] as [number[], number[]];
    sum += Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) / 2;
  }
  return sum;
};

describe('faces within a lasso', () => {
  // Coarse faces of many pixels, and such as are smaller than a pixel.
  it.each([
    ['coarse', 48, RADIUS * 4],
    ['dense', 160, RADIUS * 24],
  ])('are those of the near half of a ball, %s', (_name, rings, width) => {
    const view = viewOf(width);
    const reach = RADIUS / 2 / width;
    const { receiver, ...rest } = layeredMeshes([sphere('ball', RADIUS, rings, rings * 2)], 0, 1);
    const all = facesInView({ receiver, ...rest }, view, square(0, 1));
    // The half of 4 π r².
    expect(area(all, receiver) / (2 * Math.PI * RADIUS ** 2)).toBeCloseTo(1, 1);
    // A cap of height h has the area 2 π r h, and none of the far side is in it (Archimedes).
    const disc = Array.from({ length: 128 }, (_, i) => {
      const turn = (i / 64) * Math.PI;
      return [0.5 + reach * Math.cos(turn), 0.5 + reach * Math.sin(turn)];
    }).flat();
    const cap = 2 * Math.PI * RADIUS * (RADIUS - Math.sqrt(RADIUS ** 2 - (RADIUS / 2) ** 2));
    expect(area(facesInView({ receiver, ...rest }, view, disc), receiver) / cap).toBeCloseTo(1, 1);
    expect(facesInView({ receiver, ...rest }, view, square(0.9, 1)).some(Boolean)).toBe(false);
  });

  it('are those of a part of the map', () => {
    const surface = layeredMeshes([sphere('ball', RADIUS, 32, 64)], 0, 1);
    const tile = layeredTile(surface, 1001, { width: 64, height: 64 });
    const faces = facesInMap(tile, [0, 0, 1, 0, 1, 0.5, 0, 0.5]);
    // The upper half of the map is the upper half of the ball.
    expect(area(faces, surface.receiver) / (2 * Math.PI * RADIUS ** 2)).toBeCloseTo(1, 1);
    expect(faces.reduce((sum, value) => sum + value, 0) / faces.length).toBeCloseTo(0.5, 1);
  });
});
