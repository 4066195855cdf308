import fc from 'fast-check';
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { parseSettings, type LightSettings } from '@zographos/operations';
import { draggedTo, handlesOf, handleUnder, moved, type Pointer } from './lightHandles.ts';

const DOME = { centre: [0, 0, 0] as [number, number, number], radius: 10 };
const VIEW = { width: 400, height: 300 };

function settingsOf(lights: object[], more: object = {}): LightSettings {
  return parseSettings('light', { size: { width: 16, height: 16 }, passes: ['combined'], lights, ...more });
}

function camera(): PerspectiveCamera {
  const eye = new PerspectiveCamera(30, VIEW.width / VIEW.height, 0.1, 1000);
  eye.position.set(20, 30, 60);
  eye.lookAt(0, 0, 0);
  eye.updateMatrixWorld();
  return eye;
}

/** The pointer over a place. */
function over(at: readonly number[], eye: PerspectiveCamera): Pointer {
  const { x, y } = new Vector3(...(at as [number, number, number])).project(eye);
  return { ...VIEW, x: ((x + 1) / 2) * VIEW.width, y: ((1 - y) / 2) * VIEW.height };
}

const point = { kind: 'point', position: [3, 4, 5], strength: [1, 1, 1] };
const spot = { kind: 'spot', position: [-4, 8, 0], target: [1, 0, 2], angle: 30, strength: [1, 1, 1] };
const sun = { kind: 'sun', elevation: 30, azimuth: 120, angle: 0.5, strength: [1, 1, 1] };

describe('lights in the view', () => {
  it('can be taken hold of where they are, the target only of the one that is chosen, and the eye', () => {
    const settings = settingsOf([point, spot, sun], { seenFrom: [0, 5, 20] });
    const eye = camera();
    expect(handlesOf(settings, 0, DOME).map(({ of, end }) => `${of} ${end}`)).toEqual([
      ...['0 place', '1 place', '2 place', 'eye place'],
    ]);
    const handles = handlesOf(settings, 1, DOME);
    expect(handles[0]).toMatchObject({ of: 1, end: 'target' });
    for (const handle of handles) expect(handleUnder(handles, over(handle.at, eye), eye)).toBe(handle);
    expect(handleUnder(handles, { ...VIEW, x: 2, y: 2 }, eye)).toBeNull();
  });

  it('stay below the pointer while they are dragged, and as far from the viewer', () => {
    const eye = camera();
    const forward = eye.getWorldDirection(new Vector3());
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 380 }), fc.integer({ min: 20, max: 280 }), (x, y) => {
        const settings = settingsOf([point]);
        const [handle] = handlesOf(settings, 0, DOME);
        const to = draggedTo(handle!, { ...VIEW, x, y }, eye, null)!;
        const under = over(to, eye);
        expect([under.x, under.y]).toEqual([expect.closeTo(x, 3), expect.closeTo(y, 3)]);
        const depth = (at: readonly number[]): number =>
          new Vector3(...(at as [number, number, number])).sub(eye.position).dot(forward);
        expect(depth(to)).toBeCloseTo(depth(handle!.at), 4);
        expect(moved(settings, handle!, to, DOME).lights[0]).toMatchObject({ kind: 'point', position: to });
      }),
    );
  });

  it('a sun goes over the sky: what it is dragged to is where it then stands', () => {
    const eye = camera();
    fc.assert(
      fc.property(
        fc.constantFrom('x', 'y', 'z'),
        fc.integer({ min: 60, max: 340 }),
        fc.integer({ min: 60, max: 240 }),
        (up, x, y) => {
          const settings = settingsOf([sun], { up });
          const [handle] = handlesOf(settings, 0, DOME);
          const to = draggedTo(handle!, { ...VIEW, x, y }, eye, DOME)!;
          const after = moved(settings, handle!, to, DOME);
          const [next] = handlesOf(after, 0, DOME);
          const apart = new Vector3(...next!.at).normalize().distanceTo(new Vector3(...to).normalize());
          expect(apart).toBeLessThan(1e-6);
          expect(after.lights[0]).toMatchObject({ kind: 'sun', angle: 0.5 });
        },
      ),
    );
  });

  it('targets and the eye are moved alone', () => {
    const settings = settingsOf([spot], { seenFrom: [0, 5, 20] });
    const [target, , eyeHandle] = handlesOf(settings, 0, DOME);
    expect(moved(settings, target!, [9, 9, 9], DOME).lights[0]).toMatchObject({
      position: [-4, 8, 0],
      target: [9, 9, 9],
    });
    expect(moved(settings, eyeHandle!, [1, 2, 3], DOME)).toMatchObject({
      seenFrom: [1, 2, 3],
      lights: settings.lights,
    });
  });
});
