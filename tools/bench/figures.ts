/** What a part of the bench has measured, by name: plain numbers, or groups of them. */
export interface Figures {
  [name: string]: number | Figures;
}

/** Seconds a piece of work takes. */
export async function seconds(work: () => unknown): Promise<number> {
  const since = performance.now();
  await work();
  return (performance.now() - since) / 1000;
}

/** The best of several times: what the machine can do when nothing else disturbs it. */
export async function bestSeconds(times: number, work: () => unknown): Promise<number> {
  let best = Infinity;
  for (let i = 0; i < times; i++) best = Math.min(best, await seconds(work));
  return best;
}

export const millions = (value: number): string => (value / 1e6).toFixed(2);
