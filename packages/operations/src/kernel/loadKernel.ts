import { readFileSync } from 'node:fs';
import { kernelImports, type Kernel, type KernelExports, type KernelMemory } from '@zographos/core/kernel';

/** From the build the kernel lies one folder above the programs; the source finds the build from the root. */
const FILE = import.meta.url.endsWith('.ts') ? '../../../../build/kernel.wasm' : '../kernel.wasm';
const PAGE = 65536;
const MAX_PAGES = 65536;
/** What a kernel for pictures begins with; it grows. */
const FIRST_BYTES = 1024 * 1024;

let compiled: WebAssembly.Module | null | undefined;

/** The kernel's code, or null where this machine cannot run it. */
function kernelModule(): WebAssembly.Module | null {
  if (compiled !== undefined) return compiled;
  const bytes = readFileSync(new URL(FILE, import.meta.url));
  compiled = WebAssembly.validate(bytes) ? new WebAssembly.Module(bytes) : null;
  return compiled;
}

export const hasKernel = (): boolean => kernelModule() !== null;

/** A kernel with new memory of at least so many bytes. */
export function newKernel(bytes = FIRST_BYTES, onPlaced?: (triangles: number) => void): Kernel {
  const initial = Math.ceil(bytes / PAGE);
  return attachKernel(new WebAssembly.Memory({ initial, maximum: MAX_PAGES, shared: true }), onPlaced);
}

/** A kernel over memory that another one has filled. */
export function attachKernel(memory: KernelMemory, onPlaced?: (triangles: number) => void): Kernel {
  const { exports } = new WebAssembly.Instance(kernelModule()!, kernelImports(memory as WebAssembly.Memory, onPlaced));
  return { memory, exports: exports as unknown as KernelExports };
}
