import { describe, expect, it } from 'vitest';
import { buildKernelTree, hitBatch, rayBatch, sceneOf, type BuildHelper, type Tracer } from '@zographos/core/trace';
import { sphere } from '@zographos/core/testing';
import { newKernel } from '../kernel/loadKernel.ts';
import { buildPlainTrees, buildSceneTree, tracersOn } from './sceneTree.ts';
import { treeHelper } from './treeHelper.ts';

describe('the tree of a scene', () => {
  it('has the same tree to the byte whether another thread helps to build it, or dies of it', () => {
    const scene = sceneOf([sphere('float', 1, 260, 400)]);
    const bytesOf = (helper: BuildHelper | null): Uint8Array => {
      const { memory, trees } = buildKernelTree(scene, newKernel, 1, undefined, undefined, helper);
      const { nodes, packets } = trees[0]!;
      return new Uint8Array(memory.buffer).slice(Math.min(nodes, packets));
    };
    const alone = bytesOf(null);
    expect(Buffer.compare(bytesOf(treeHelper), alone)).toBe(0);
    expect(
      Buffer.compare(
        bytesOf(() => () => null),
        alone,
      ),
    ).toBe(0);
  });

  it('numbers triangles as the scene does, however many trees there are and whoever traces them', () => {
    const [near, far] = [sphere('near', 1, 12, 24), sphere('far', 1, 12, 24)];
    const scene = sceneOf([
      near,
      { ...far, positions: far.positions.map((value, i) => value + (i % 3 === 2 ? 5 : 0)) },
    ]);
    const half = near.indices.length / 3;
    const ranges = [
      { from: 0, to: half },
      { from: half, to: half * 2 },
    ];
    const rays = rayBatch(1);
    rays.count = 1;
    rays.origins.set([0.1, 0.05, -9]);
    rays.directions.set([0, 0, 1]);
    rays.lengths[0] = 100;
    const met = (tracers: readonly Tracer[]): number[] =>
      tracers.map((tracer) => {
        const hits = hitBatch(1);
        tracer.closestHits(rays, hits, 'accept');
        return hits.triangles[0]!;
      });
    const tree = buildSceneTree(scene, 1, undefined, ranges);
    expect(tree.kind).toBe('kernel');
    const [first, second] = met(tracersOn(tree, 0));
    expect(first).toBeLessThan(half);
    expect(second).toBe(first! + half);
    expect(met(tracersOn({ kind: 'plain', trees: buildPlainTrees(scene, ranges) }, 0))).toEqual([first, second]);
  });
});
