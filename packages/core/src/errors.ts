/**
 * Every failure an artist can meet, as `category/what`. The category decides how the edges treat it
 * (HTTP status, exit code): `input` bad data, `limit` too large, `missing` not there, `conflict` changed
 * elsewhere, `access` not allowed, `run` the work itself could not be done, `service` something is down.
 */
export type ErrorCode =
  | 'input/unreadable-file'
  | 'input/wrong-file-type'
  | 'input/empty-file'
  | 'input/no-triangles'
  | 'input/bad-index'
  | 'input/not-finite'
  | 'input/missing-part'
  | 'input/no-uvs'
  | 'input/other-layout'
  | 'input/other-convention'
  | 'input/outside-tile'
  | 'input/cage-topology'
  | 'input/other-topology'
  | 'input/not-flat'
  | 'input/scale'
  | 'input/no-partner'
  | 'input/no-shared-triangles'
  | 'input/bad-settings'
  | 'input/bad-request'
  | 'limit/bytes'
  | 'limit/pixels'
  | 'limit/triangles'
  | 'limit/objects'
  | 'limit/archive'
  | 'limit/memory'
  | 'limit/packing'
  | 'limit/pieces'
  | 'limit/time'
  | 'missing/not-found'
  | 'conflict/changed-elsewhere'
  | 'conflict/in-use'
  | 'conflict/tile-filled'
  | 'access/forbidden'
  | 'access/passphrase'
  | 'access/too-many'
  | 'run/nothing-hit'
  | 'run/cancelled'
  | 'run/lost'
  | 'run/failed'
  | 'service/database'
  | 'service/disk-full'
  | 'service/internal';

/** An error with a sentence an artist understands: what went wrong, why, and the way out. */
export class ZographosError extends Error {
  readonly code: ErrorCode;

  constructor(code: ErrorCode, message: string, options?: { cause?: unknown }) {
    super(message, options);
    this.name = 'ZographosError';
    this.code = code;
  }
}

/** The category part of an error's code. */
export function errorCategory(code: ErrorCode): string {
  return code.slice(0, code.indexOf('/'));
}
