import { helpTeam, kernelImports, type KernelExports } from '@zographos/core/kernel';

/** What a helper of the preview's team is told. */
export interface PreviewHelperStart {
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  /** From 1 on. */
  thread: number;
}

self.onmessage = ({ data: { module, memory, thread } }: MessageEvent<PreviewHelperStart>): void => {
  const { exports } = new WebAssembly.Instance(module, kernelImports(memory));
  helpTeam({ memory, exports: exports as unknown as KernelExports }, thread);
};
