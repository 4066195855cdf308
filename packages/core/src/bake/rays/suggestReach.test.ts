import { describe, expect, it } from 'vitest';
import { joinMeshes } from '../../mesh/join.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { smoothNormals } from '../../mesh/normals.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import { buildBvh } from '../../trace/bvh.ts';
import { bvhTracer } from '../../trace/bvhTracer.ts';
import { sceneOf } from '../../trace/scene.ts';
import { prepareReceiver } from '../receiver.ts';
import { reachFaults } from './reachFaults.ts';
import { suggestReach } from './suggestReach.ts';
import { fitReach, setReach } from './vertexReach.ts';

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

describe('faults of a reach', () => {
  it('are fewer where it is fitted: one far enough for a tall part begins inside its neighbour', () => {
    // Two balls close to each other, of which one has a tall spike on its far side.
    const ball = (x: number): Mesh => {
      const mesh = sphere('ball', 1, 24, 48);
      return { ...mesh, positions: mesh.positions.map((value, i) => value + (i % 3 === 0 ? x : 0)) };
    };
    const receiver = joinMeshes('pair', [ball(-1.1), ball(1.1)]);
    const spike = sphere('spike', 0.3, 16, 32);
    const tall = { ...spike, positions: spike.positions.map((value, i) => (i % 3 === 0 ? value * 2 - 2.1 : value)) };
    const scene = sceneOf([ball(-1.1), ball(1.1), tall]);
    const tracers = [bvhTracer(buildBvh(scene))];
    const prepared = prepareReceiver([{ mesh: receiver, group: 0 }], 0);
    const reach = suggestReach(prepared, scene, tracers);
    expect(reach.out).toBeGreaterThan(0.5);
    setReach(prepared, reach);
    const same = reachFaults(prepared, scene, tracers);
    fitReach(prepared, scene, tracers);
    const fitted = reachFaults(prepared, scene, tracers);
    expect(same).toBeGreaterThan(0.02);
    expect(fitted).toBeLessThan(same / 4);
  });
});
