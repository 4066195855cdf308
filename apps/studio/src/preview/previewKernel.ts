import { kernelImports, KernelTeam, useKernelTeam, type KernelExports } from '@zographos/core/kernel';
import kernelUrl from '../../../../build/kernel.wasm?url';
import type { PreviewHelperStart } from './previewHelper.ts';

const PAGE = 65536;
/** Previews are small: a quarter of what the kernel can reach. */
const MOST_PAGES = 16384;
/** More hardly make a small picture sooner, and the page needs some as well. */
const MOST_THREADS = 4;

/** Threads that may share memory: one alone on a page that is not kept apart from others. */
const threadsHere = (): number =>
  globalThis.crossOriginIsolated ? Math.max(1, Math.min(MOST_THREADS, navigator.hardwareConcurrency)) : 1;

/**
 * Works on pictures with the kernel from when it has come; before, and where it cannot run, with plain code.
 * @param watch called before each piece of work; may throw, for one that is to stop
 */
export async function usePreviewKernel(watch: () => void = () => {}): Promise<void> {
  try {
    const memory = new WebAssembly.Memory({ initial: (1024 * 1024) / PAGE, maximum: MOST_PAGES, shared: true });
    const { module, instance } = await WebAssembly.instantiateStreaming(fetch(kernelUrl), kernelImports(memory));
    const threads = threadsHere();
    const startHelpers = (): void => {
      for (let thread = 1; thread < threads; thread++) {
        const helper = new Worker(new URL('./previewHelper.ts', import.meta.url), { type: 'module' });
        helper.postMessage({ module, memory, thread } satisfies PreviewHelperStart);
      }
    };
    const kernel = { memory, exports: instance.exports as unknown as KernelExports };
    useKernelTeam(new KernelTeam(kernel, threads, { startHelpers, watch }));
  } catch (error) {
    // Previews are the same without it, but for the last digits, and take longer.
    console.warn('The kernel for pictures cannot run in this browser.', error);
  }
}
