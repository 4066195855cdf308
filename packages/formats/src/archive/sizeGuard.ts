import type { UnzipFileInfo } from 'fflate';
import { ZographosError } from '@zographos/core/errors';

/** What a byte of the deflate format can become at the most (zlib, “Maximum Compression Factor”). */
const MOST_FOR_A_BYTE = 1032;

/**
 * Adds up what the entries of an archive say that they unfold to.
 * @param maxBytes of all together
 * @returns to be called with each entry before it is unfolded; throws limit/archive for too many bytes in all, and
 * input/unreadable-file for an entry that its compressed bytes cannot become
 */
export function sizeGuard(name: string, maxBytes: number): (entry: UnzipFileInfo) => void {
  let total = 0;
  return ({ originalSize, size }) => {
    if (originalSize > MOST_FOR_A_BYTE * (size + 1)) throw damagedArchive(name);
    total += originalSize;
    if (total <= maxBytes) return;
    throw new ZographosError(
      'limit/archive',
      `“${name}” would unfold to more than ${maxBytes} bytes, the limit set by ZOGRAPHOS_MAX_EXPANDED_BYTES. Import its files one by one, or raise the limit.`,
    );
  };
}

export const damagedArchive = (name: string, cause?: unknown): ZographosError =>
  new ZographosError(
    'input/unreadable-file',
    `“${name}” cannot be unpacked: it is damaged, or packed in a way unknown here. Pack it again as an ordinary ZIP.`,
    { cause },
  );
