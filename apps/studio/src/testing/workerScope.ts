import { vi } from 'vitest';

/** A worker's module in this thread: what it is sent and what it tells, one after another. */
export interface WorkerScope<Ask, Told> {
  send(message: Ask): void;
  /** What it has told and nobody has heard yet. */
  next(): Promise<Told>;
}

/** @param load imports the worker's module, which listens to `self` */
export async function workerScope<Ask, Told>(load: () => Promise<unknown>): Promise<WorkerScope<Ask, Told>> {
  const heard: Told[] = [];
  const waiting: ((told: Told) => void)[] = [];
  const self: { onmessage: ((event: { data: Ask }) => void) | null; postMessage: (told: Told) => void } = {
    onmessage: null,
    postMessage(told) {
      const next = waiting.shift();
      if (next) next(told);
      else heard.push(told);
    },
  };
  vi.resetModules();
  vi.stubGlobal('self', self);
  await load();
  return {
    send: (data) => self.onmessage!({ data }),
    next: () => {
      const told = heard.shift();
      return told === undefined ? new Promise((resolve) => waiting.push(resolve)) : Promise.resolve(told);
    },
  };
}
