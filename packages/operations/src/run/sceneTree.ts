import {
  buildBvh,
  buildKernelTree,
  bvhTracer,
  fitsKernel,
  kernelTracer,
  type Bvh,
  type KernelTree,
  type Scene,
  type Tracer,
} from '@zographos/core';
import { attachKernel, hasKernel, newKernel } from './kernel.ts';

/** A scene's tree as threads pass it around: the kernel's, or the plain one where the kernel cannot serve. */
export type SceneTree = { kind: 'kernel'; tree: KernelTree } | { kind: 'plain'; bvh: Bvh };

/**
 * Builds the tree of a scene for the fastest tracer that can take it.
 * @param threads how many threads will trace it
 */
export function buildSceneTree(scene: Scene, threads: number, onProgress?: (share: number) => void): SceneTree {
  if (hasKernel() && fitsKernel(scene, threads)) {
    return { kind: 'kernel', tree: buildKernelTree(scene, newKernel, threads, onProgress) };
  }
  return { kind: 'plain', bvh: buildBvh(scene, onProgress) };
}

/** A tracer for one of the threads. */
export function tracerOn(tree: SceneTree, thread: number): Tracer {
  if (tree.kind === 'plain') return bvhTracer(tree.bvh);
  return kernelTracer(tree.tree, attachKernel(tree.tree.memory), thread);
}
