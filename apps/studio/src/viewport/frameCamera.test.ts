import fc from 'fast-check';
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { centreOf, distanceToFrame, type Box, type Vector } from './frameCamera.ts';

const coordinate = fc.double({ min: -1000, max: 1000, noNaN: true });
const box = fc
  .tuple(fc.tuple(coordinate, coordinate, coordinate), fc.tuple(coordinate, coordinate, coordinate))
  .filter(([a, b]) => Math.hypot(...a.map((value, k) => value - b[k]!)) > 1)
  .map(([a, b]): Box => ({
    min: a.map((value, k) => Math.min(value, b[k]!)) as unknown as Vector,
    max: a.map((value, k) => Math.max(value, b[k]!)) as unknown as Vector,
  }));
/** Whole numbers: at 1e-160 beside 1 the camera of three.js turns by a matrix that is no rotation. */
const whole = fc.integer({ min: -1000, max: 1000 });
const direction = fc
  .tuple(whole, whole, whole)
  .filter((v) => Math.hypot(...v) > 1)
  .map((v): Vector => v);

/** The corners of a box as three.js projects them, where −1 to 1 is in view. */
function projected(of: Box, forward: Vector, fov: number, aspect: number): Vector3[] {
  const camera = new PerspectiveCamera(fov, aspect, 1e-3, 1e6);
  const centre = new Vector3(...centreOf(of));
  const distance = distanceToFrame(of, forward, (fov * Math.PI) / 180, aspect);
  camera.position.copy(centre).addScaledVector(new Vector3(...forward).normalize(), -distance);
  camera.lookAt(centre);
  camera.updateMatrixWorld();
  return Array.from({ length: 8 }, (_, corner) =>
    new Vector3(...[0, 1, 2].map((k) => (corner & (1 << k) ? of.max : of.min)[k]!)).project(camera),
  );
}

describe('framing', () => {
  it('has every corner of any box in view, from any side, whatever the shape of the view', () => {
    fc.assert(
      fc.property(
        box,
        direction,
        fc.double({ min: 10, max: 100, noNaN: true }),
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        (of, forward, fov, aspect) => {
          for (const corner of projected(of, forward, fov, aspect)) {
            expect(Math.abs(corner.x)).toBeLessThanOrEqual(1);
            expect(Math.abs(corner.y)).toBeLessThanOrEqual(1);
          }
        },
      ),
    );
  });

  it('wastes no room: some corner of a long mesh comes near the border', () => {
    const long: Box = { min: [-10, -0.2, -0.2], max: [10, 0.2, 0.2] };
    const most = Math.max(...projected(long, [0, 0, -1], 30, 1.6).flatMap(({ x, y }) => [Math.abs(x), Math.abs(y)]));
    expect(most).toBeGreaterThan(0.9);
  });
});
