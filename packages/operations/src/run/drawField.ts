import { sharedFloat32, ZographosError, type Image } from '@zographos/core';
import type { FieldSettings } from '../flat/fieldSettings.ts';
import { askThread } from './askThread.ts';
import { throwIfCancelled } from './context.ts';
import type { FieldPart } from './fieldThread.ts';
import { mapsOfField, type FlatMap, type FlatWatch } from './runFlat.ts';
import { startThread } from './startThread.ts';

/** Rows that a thread is given at a time. */
const ROWS = 16;

/** The maps of a field, drawn on several threads, which take rows as they become free. */
export async function drawField(
  settings: FieldSettings,
  { cancelFlag, onProgress, threads }: FlatWatch & { threads: number },
): Promise<FlatMap[]> {
  const { size, layers, wrap, samples } = settings;
  const out = sharedFloat32(size.width * size.height);
  const options = { layers, wrap, samples };
  let next = 0;
  const work = async (): Promise<void> => {
    const thread = startThread('./fieldThread', import.meta.url);
    try {
      while (next < size.height) {
        throwIfCancelled(cancelFlag);
        const from = next;
        next = Math.min(size.height, from + ROWS);
        const part: FieldPart = { options, size, from, to: next, out };
        await askThread(
          thread,
          part,
          (message: string) => message,
          (cause) =>
            new ZographosError('run/failed', 'A thread that drew the field was lost. Run it again.', { cause }),
        );
        onProgress({ stage: 'trace', share: from / size.height, secondsLeft: null });
      }
    } finally {
      void thread.terminate();
    }
  };
  await Promise.all(Array.from({ length: Math.min(threads, Math.ceil(size.height / ROWS)) }, work));
  const field: Image = { ...size, channels: 1, data: out };
  return mapsOfField(settings, field);
}
