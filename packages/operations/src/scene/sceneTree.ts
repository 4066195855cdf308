import {
  buildBvh,
  buildKernelTree,
  bvhTracer,
  fitsKernel,
  kernelTracer,
  placeReceiver,
  sampleKernel,
  wholeScene,
  type AimedSurface,
  type Bvh,
  type HitBatch,
  type KernelTree,
  type PlacedReceiver,
  type RayBatch,
  type SampleKernel,
  type Scene,
  type Tracer,
  type TriangleRange,
} from '@zographos/core/trace';
import { attachKernel, hasKernel, newKernel } from '../kernel/loadKernel.ts';
import { treeHelper } from './treeHelper.ts';

/** A plain tree over some of a scene's triangles. */
export interface PlainTree {
  bvh: Bvh;
  /** The first triangle it holds. */
  from: number;
}

/** A scene's trees as threads pass them around: the kernel's, or plain ones where the kernel cannot serve. */
export type SceneTree = { kind: 'kernel'; tree: KernelTree } | { kind: 'plain'; trees: PlainTree[] };

/**
 * Builds trees over a scene for the fastest tracer that can take it.
 * @param threads how many threads will trace it
 * @param ranges one tree for each; left out, one for the whole scene
 */
export function buildSceneTree(
  scene: Scene,
  threads: number,
  onProgress?: (share: number) => void,
  ranges: readonly TriangleRange[] = [wholeScene(scene)],
): SceneTree {
  if (hasKernel() && fitsKernel(scene, ranges, threads)) {
    return { kind: 'kernel', tree: buildKernelTree(scene, newKernel, threads, ranges, onProgress, treeHelper) };
  }
  return { kind: 'plain', trees: buildPlainTrees(scene, ranges, onProgress) };
}

export function buildPlainTrees(
  scene: Scene,
  ranges: readonly TriangleRange[],
  onProgress?: (share: number) => void,
): PlainTree[] {
  return ranges.map(({ from, to }) => ({
    from,
    bvh: buildBvh({ ...scene, indices: scene.indices.subarray(from * 3, to * 3) }, onProgress),
  }));
}

/** Tracers for one of the threads, one for each tree. */
export function tracersOn(tree: SceneTree, thread: number): Tracer[] {
  if (tree.kind === 'plain') return tree.trees.map(plainTracer);
  const kernel = attachKernel(tree.tree.memory);
  return tree.tree.trees.map((_, number) => kernelTracer(tree.tree, kernel, thread, number));
}

/** Lays a receiver beside a scene, so that the kernel can aim its rays; null where there is no kernel. */
export const placeBeside = (tree: SceneTree, receiver: AimedSurface): PlacedReceiver | null =>
  tree.kind === 'kernel' ? placeReceiver(tree.tree, receiver) : null;

/** What works on the samples of one of the threads. */
export function samplesOn(
  tree: SceneTree,
  thread: number,
  receiver: PlacedReceiver,
  capacity: number,
): SampleKernel | null {
  if (tree.kind === 'plain') return null;
  return sampleKernel(tree.tree, attachKernel(tree.tree.memory), thread, receiver, capacity);
}

/** A plain tracer whose triangles have their numbers in the whole scene. */
function plainTracer({ bvh, from }: PlainTree): Tracer {
  const tracer = bvhTracer(bvh);
  return {
    ...tracer,
    closestHits(rays: RayBatch, hits: HitBatch, backFaces) {
      tracer.closestHits(rays, hits, backFaces);
      for (let r = 0; from > 0 && r < rays.count; r++) if (hits.triangles[r]! >= 0) hits.triangles[r]! += from;
    },
  };
}
