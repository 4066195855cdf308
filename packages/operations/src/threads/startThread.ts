import { Worker } from 'node:worker_threads';

/**
 * Starts a thread from a module beside the caller, whether it runs from source (through a small starter that
 * teaches the thread TypeScript) or bundled (where each thread is a file of its own next to the program).
 * @param module the thread's module without ending, relative to the caller
 * @param callerUrl the caller's import.meta.url
 */
export function startThread(module: string, callerUrl: string): Worker {
  if (callerUrl.endsWith('.ts')) {
    return new Worker(new URL('./sourceThread.mjs', import.meta.url), {
      workerData: { module: new URL(`${module}.ts`, callerUrl).href },
    });
  }
  return new Worker(new URL(`./${module.slice(module.lastIndexOf('/') + 1)}.js`, callerUrl));
}
