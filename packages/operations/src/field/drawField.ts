import type { Image } from '@zographos/core/image';
import { sharedFloat32 } from '@zographos/core/shared-arrays';
import type { FieldSettings } from './settings.ts';
import type { FieldPart } from './fieldThread.ts';
import type { FlatMap, FlatWatch } from '../flat/flatMap.ts';
import { mapsOfField } from './mapsOfField.ts';
import { ThreadTeam } from '../threads/threadTeam.ts';

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
  const parts = Math.ceil(size.height / ROWS);
  const team = new ThreadTeam<FieldPart, null>('./fieldThread', import.meta.url, Math.min(threads, parts), cancelFlag);
  let done = 0;
  try {
    await Promise.all(
      Array.from({ length: parts }, async (_, i) => {
        await team.do({ options, size, from: i * ROWS, to: Math.min(size.height, (i + 1) * ROWS), out });
        onProgress({ stage: 'trace', share: ++done / parts, secondsLeft: null });
      }),
    );
  } finally {
    team.close();
  }
  const field: Image = { ...size, channels: 1, data: out };
  return mapsOfField(settings, field);
}
