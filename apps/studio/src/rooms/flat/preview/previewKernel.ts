import { kernelImports, KernelTeam, useKernelTeam, type KernelExports } from '@zographos/core/kernel';
import kernelUrl from '../../../../../../build/kernel.wasm?url';

const PAGE = 65536;
/** Previews are small: a quarter of what the kernel can reach. */
const MOST_PAGES = 16384;

/** Works on pictures with the kernel from when it has come; before, and where it cannot run, with plain code. */
export async function usePreviewKernel(): Promise<void> {
  try {
    const memory = new WebAssembly.Memory({ initial: (1024 * 1024) / PAGE, maximum: MOST_PAGES, shared: true });
    const { instance } = await WebAssembly.instantiateStreaming(fetch(kernelUrl), kernelImports(memory));
    useKernelTeam(new KernelTeam({ memory, exports: instance.exports as unknown as KernelExports }, 1));
  } catch (error) {
    // Previews are the same without it, but for the last digits, and take longer.
    console.warn('The kernel for pictures cannot run in this browser.', error);
  }
}
