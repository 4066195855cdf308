import type { Made, Run, RunContext, RunOutcome } from '../runContext.ts';

/** Resources of a run that nobody watches. @param threads one, unless the test is about more */
export const quietly = (threads = 1) => ({
  threads,
  memoryLimitBytes: 8e9,
  cancelFlag: new Int32Array(new SharedArrayBuffer(4)),
  onProgress: (): void => {},
});

export type OfMade<What extends Made['what']> = Extract<Made, { what: What }>;

/** Runs an operation, and keeps all that it puts. */
export async function collect<Settings, Report>(
  run: Run<Settings, Report>,
  context: Omit<RunContext<Settings>, 'put' | keyof ReturnType<typeof quietly>> & { threads?: number },
): Promise<RunOutcome<Report> & { maps: OfMade<'map'>[]; meshes: OfMade<'mesh'>['mesh'][]; files: OfMade<'file'>[] }> {
  const made: Made[] = [];
  const outcome = await run({
    ...quietly(),
    ...context,
    put: (one) => {
      made.push(one);
      return Promise.resolve();
    },
  });
  return {
    ...outcome,
    maps: made.filter((one): one is OfMade<'map'> => one.what === 'map'),
    meshes: made.filter((one): one is OfMade<'mesh'> => one.what === 'mesh').map(({ mesh }) => mesh),
    files: made.filter((one): one is OfMade<'file'> => one.what === 'file'),
  };
}
