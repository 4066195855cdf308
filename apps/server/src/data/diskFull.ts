import { QueryFailedError } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';

/** PostgreSQL's `disk_full`. */
const DISK_FULL = '53100';

/** What is told when the database has no room left for what was to be written; null for any other failure. */
export function diskFullError(error: unknown): ZographosError | null {
  const cause: unknown = error instanceof QueryFailedError ? error.driverError : error;
  if (!(cause instanceof Error) || !('code' in cause) || cause.code !== DISK_FULL) return null;
  return new ZographosError(
    'service/disk-full',
    'The disk that the database lies on is full. Make room on it, then do this again; nothing that was there is lost.',
    { cause },
  );
}
