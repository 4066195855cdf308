import type { ErrorRequestHandler } from 'express';
import { QueryFailedError } from 'typeorm';
import { z } from 'zod';
import { errorCategory, ZographosError } from '@zographos/core/errors';
import { diskFullError } from '../data/diskFull.ts';
import type { Logger } from '../log.ts';

/** By code, or by the category of codes that have no status of their own. */
const STATUS: Record<string, number> = {
  'access/passphrase': 401,
  'access/too-many': 429,
  input: 422,
  limit: 413,
  missing: 404,
  conflict: 409,
  access: 403,
  run: 422,
  service: 503,
};

/** Sends every failure as `{code, message}`: known ones as they are, the rest without their insides. */
export function sendErrors(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    // Whoever asked has gone: there is nobody to tell, and nothing has failed.
    if (response.destroyed) return;
    const known = knownError(error);
    if (known.code.startsWith('service/')) log.error({ url: request.url, error: String(error) }, 'request failed');
    const status = STATUS[known.code] ?? STATUS[errorCategory(known.code)] ?? 500;
    // What a route has said of its answer is not true of a failure.
    response.setHeader('Cache-Control', 'no-store');
    response.status(status).json({ code: known.code, message: known.message });
  };
}

function knownError(error: unknown): ZographosError {
  if (error instanceof ZographosError) return error;
  const full = diskFullError(error);
  if (full) return full;
  if (isDatabaseDown(error)) {
    return new ZographosError(
      'service/database',
      'The database does not answer. Nothing is lost; this page reconnects automatically.',
    );
  }
  // What reads requests and sends files marks what whoever asked did wrong: JSON, compression, charset, a path.
  const mistake = theirMistake.safeParse(error);
  if (mistake.success) {
    return mistake.data.status === 404
      ? new ZographosError('missing/not-found', 'There is nothing at this address.')
      : new ZographosError('input/bad-request', `The request could not be read: ${mistake.data.message}.`);
  }
  if (error instanceof URIError) return new ZographosError('input/bad-request', 'The address could not be read.');
  return new ZographosError(
    'service/internal',
    'A fault in Zographos itself stopped this; it was logged. Try again, or load the page again.',
  );
}

const theirMistake = z.object({ status: z.int().min(400).max(499), message: z.string() });

/** Failures that say the connection, not the question, was at fault. */
export function isDatabaseDown(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const cause = error instanceof QueryFailedError ? (error.driverError as Error) : error;
  const code = 'code' in cause ? String(cause.code) : '';
  return (
    /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|57P0[123]|08\d{3})$/.test(code) ||
    /Connection terminated|timeout exceeded when trying to connect|not queryable|Driver not Connected/.test(
      cause.message,
    )
  );
}
