import { sharedImage, type Image } from '@zographos/core/image';
import type { FieldOptions } from '@zographos/core/pattern';
import { sharedFloat32, sharedUint32 } from '@zographos/core/shared-arrays';
import type { FieldSettings } from './settings.ts';
import type { FieldPart } from './fieldThread.ts';
import type { FlatMap, FlatWatch } from '../flat/flatMap.ts';
import { mapsOfField, showsElements } from './mapsOfField.ts';
import { ThreadTeam } from '../threads/threadTeam.ts';

/** Rows that a thread is given at a time. */
const ROWS = 16;

/**
 * The maps of a field, drawn on several threads, which take rows as they become free.
 * @param motifs images that layers repeat, as light
 */
export async function drawField(
  settings: FieldSettings,
  motifs: readonly Image[],
  { cancelFlag, onProgress, threads }: FlatWatch & { threads: number },
): Promise<FlatMap[]> {
  const { size, layers, wrap, samples } = settings;
  const texels = size.width * size.height;
  const values = sharedFloat32(texels);
  const elements = showsElements(settings) ? sharedUint32(texels) : null;
  const options: FieldOptions = { layers, wrap, samples, motifs: motifs.map(sharedImage) };
  const parts = Math.ceil(size.height / ROWS);
  const team = new ThreadTeam<FieldPart, null>('./fieldThread', import.meta.url, Math.min(threads, parts), cancelFlag);
  let done = 0;
  try {
    await Promise.all(
      Array.from({ length: parts }, async (_, i) => {
        const rows = { from: i * ROWS, to: Math.min(size.height, (i + 1) * ROWS) };
        await team.do({ options, size, ...rows, values, elements });
        onProgress({ stage: 'trace', share: ++done / parts, secondsLeft: null });
      }),
    );
  } finally {
    team.close();
  }
  return mapsOfField(settings, { ...size, channels: 1, data: values }, elements);
}
