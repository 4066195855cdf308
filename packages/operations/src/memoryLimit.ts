import { ZographosError } from '@zographos/core/errors';

/** Bytes that a running Node process with its libraries takes before it computes anything. */
export const BASE_BYTES = 220e6;

/**
 * Refuses what would need more memory than it may take, before anything is computed.
 * @param bytes that it is estimated to need, and may take
 * @param what it is, with its size, as a sentence begins; and the way out, as a sentence of its own
 * @throws limit/memory, with both figures
 * @example refuseBeyondMemory(9e9, 4e9, 'This bake at 8192 px', 'Choose a smaller size.')
 */
export function refuseBeyondMemory(bytes: number, limitBytes: number, what: string, wayOut: string, why = ''): void {
  if (bytes <= limitBytes) return;
  const gigabytes = (value: number): string => `${(value / 1e9).toFixed(1)} GB`;
  throw new ZographosError(
    'limit/memory',
    `${what} would need about ${gigabytes(bytes)}${why}; the limit is ${gigabytes(limitBytes)} (ZOGRAPHOS_MAX_MEMORY_MB). ${wayOut}`,
  );
}
