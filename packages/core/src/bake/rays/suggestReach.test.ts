import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../mesh/mesh.ts';
import { smoothNormals } from '../../mesh/normals.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import { buildBvh } from '../../trace/bvh.ts';
import { bvhTracer } from '../../trace/bvhTracer.ts';
import { sceneOf } from '../../trace/scene.ts';
import { suggestReach } from './suggestReach.ts';

function suggest(receiver: Mesh, ...sources: Mesh[]) {
  const scene = sceneOf(sources);
  const directions = smoothNormals(receiver.positions, receiver.indices);
  return suggestReach({ ...receiver, directions }, scene, [bvhTracer(buildBvh(scene))]);
}

describe('suggested reach', () => {
  it('covers a source outside and one inside with little to spare', () => {
    const outside = suggest(sphere('light', 1, 64, 128), sphere('dense', 1.05, 96, 192));
    expect(outside.out).toBeGreaterThan(0.05);
    expect(outside.out).toBeLessThan(0.08);
    expect(outside.found).toBeCloseTo(1, 2);
    const inside = suggest(sphere('light', 1, 64, 128), sphere('dense', 0.95, 96, 192));
    expect(inside.in).toBeGreaterThan(0.05);
    expect(inside.in).toBeLessThan(0.08);
  });

  it('goes on to the top of a body that stands in another', () => {
    const base = sphere('base', 1.002, 96, 192);
    const knob = sphere('knob', 0.2, 48, 96);
    for (let i = 0; i < knob.positions.length; i += 3) knob.positions[i]! += 1;
    expect(suggest(sphere('light', 1, 64, 128), base, knob).out).toBeGreaterThan(0.19);
  });

  it('says so when the source is nowhere near', () => {
    const far = sphere('far', 1, 16, 32);
    for (let i = 0; i < far.positions.length; i++) far.positions[i]! += 100;
    const { found, out } = suggest(reliefPlane('plane', 4, 1), far);
    expect(found).toBe(0);
    expect(out).toBeGreaterThan(0);
  });
});
