import { ZographosError } from '@zographos/core/errors';
import type { Size } from '@zographos/core/math';
import { BASE_BYTES } from '../memoryLimit.ts';
import type { RunResources } from '../runContext.ts';
import { count } from '../wording.ts';

export type FlatMaker = 'seamless' | 'derive' | 'field' | 'combine' | 'cutouts';

/** Bytes that are held at once for each texel: whatever the maps, for each of them, and for each thread. */
const BYTES_PER_TEXEL: Record<FlatMaker, { base: number; map: number; thread: number }> = {
  seamless: { base: 16, map: 56, thread: 0 },
  derive: { base: 80, map: 4, thread: 0 },
  field: { base: 8, map: 40, thread: 0 },
  combine: { base: 160, map: 16, thread: 0 },
  cutouts: { base: 60, map: 40, thread: 0 },
};

/** @throws limit/memory before anything is computed, with the figure */
export function refuseFlatBeyondMemory(
  kind: FlatMaker,
  { width, height }: Size,
  maps: number,
  { memoryLimitBytes: limitBytes, threads }: Pick<RunResources, 'memoryLimitBytes' | 'threads'>,
): void {
  const { base, map, thread } = BYTES_PER_TEXEL[kind];
  const bytes = BASE_BYTES + width * height * (base + map * maps + thread * threads);
  if (bytes <= limitBytes) return;
  const gb = (value: number): string => `${(value / 1e9).toFixed(1)} GB`;
  throw new ZographosError(
    'limit/memory',
    `${count(maps, 'map')} of ${width} × ${height} px would need about ${gb(bytes)} of memory, the limit is ${gb(limitBytes)}. Choose a smaller size or fewer maps, or raise ZOGRAPHOS_MAX_MEMORY_MB.`,
  );
}
