import { describe, expect, it } from 'vitest';
import { fitReach, prepareReceiver, reachFaults, setReach } from '@zographos/core/bake';
import { joinMeshes, type Mesh } from '@zographos/core/mesh';
import { sceneOf } from '@zographos/core/trace';
import { sphere } from '@zographos/core/testing';
import { buildSceneTree, tracersOn } from '../scene/sceneTree.ts';
import { measureReach } from './measureReach.ts';
import { DEFAULT_BAKE } from './settings.ts';

const ball = (x: number, radius = 1, stretch = 1): Mesh => {
  const mesh = sphere('ball', radius, 24, 48);
  return { ...mesh, positions: mesh.positions.map((value, i) => (i % 3 === 0 ? value * stretch + x : value)) };
};
const input = (mesh: Mesh, name: string) => ({ hash: name, mesh: { ...mesh, name } });

describe('the reach of a new ticket', () => {
  it('is fitted where one for all would begin inside a neighbour', () => {
    // Two balls close to each other, of which one has a tall spike on its far side.
    const receiver = joinMeshes('pair', [ball(-1.1), ball(1.1)]);
    const source = joinMeshes('dense', [ball(-1.1), ball(1.1), ball(-2.1, 0.3, 2)]);
    const measured = measureReach(
      { receivers: [input(receiver, 'pair')], sources: [input(source, 'dense')] },
      { ...DEFAULT_BAKE, reach: 'auto' },
    );
    expect(measured.out).toBeGreaterThan(0.5);
    expect(measured.better).toBe('fitted');

    const scene = sceneOf([source]);
    const tracers = tracersOn(buildSceneTree(scene, 1), 0);
    const prepared = prepareReceiver([{ mesh: receiver, group: 0 }], 0);
    setReach(prepared, measured);
    const same = reachFaults(prepared, scene, tracers);
    fitReach(prepared, scene, tracers);
    expect(same).toBeGreaterThan(0.02);
    expect(reachFaults(prepared, scene, tracers)).toBeLessThan(same / 4);
  });
});
