import { readFileSync } from 'node:fs';
import type { Mesh } from '../../src/mesh/mesh.ts';
import { buildKernelTree, kernelTracer, type KernelTree } from '../../src/trace/kernelTree.ts';
import { kernelImports, type Kernel, type KernelExports } from '../../src/kernel/kernel.ts';
import type { Tracer } from '../../src/trace/rays.ts';
import { sceneOf, type Scene } from '../../src/trace/scene.ts';

const compiled = new WebAssembly.Module(readFileSync(new URL('../../../../build/kernel.wasm', import.meta.url)));

/** The kernel over memory of its own. */
export function loadKernel(bytes: number): Kernel {
  const memory = new WebAssembly.Memory({ initial: Math.ceil(bytes / 65536), maximum: 65536, shared: true });
  const { exports } = new WebAssembly.Instance(compiled, kernelImports(memory));
  return { memory, exports: exports as unknown as KernelExports };
}

/** Meshes in kernel memory, with their tree, and the kernel over them. */
export const kernelOn = (...meshes: Mesh[]): OnScene => kernelOver(sceneOf(meshes));

interface OnScene {
  kernel: Kernel;
  tree: KernelTree;
  tracer: Tracer;
}

export function kernelOver(scene: Scene): OnScene {
  let kernel: Kernel | undefined;
  const tree = buildKernelTree(scene, (bytes) => (kernel = loadKernel(bytes)), 1);
  return { kernel: kernel!, tree, tracer: kernelTracer(tree, kernel!, 0) };
}

/** How far two lists are apart where they are farthest; infinite where either holds what is no number. */
export function largestDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let largest = a.length === b.length ? 0 : Infinity;
  for (let i = 0; i < a.length; i++) {
    const difference = Math.abs(a[i]! - b[i]!);
    if (!(difference <= largest)) largest = Number.isNaN(difference) ? Infinity : difference;
  }
  return largest;
}
