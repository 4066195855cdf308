import { createHash, timingSafeEqual } from 'node:crypto';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import { ZographosError } from '@zographos/core/errors';
import { ENDPOINTS } from '@zographos/contracts';
import type { Config } from '../config.ts';
import type { DataSource } from 'typeorm';
import { parseRequest } from '../http/answer.ts';
import { Guesses, TooManyTries } from './guesses.ts';
import { Sessions } from './sessions.ts';

const COOKIE = 'zographos-session';

/**
 * The passphrase, where one is set. Browsers give it once on the page for signing in and hold a session from then on; programs
 * send it with each request by HTTP basic authentication, under any user name. Without one, everybody on this machine is in.
 */
export function access(database: DataSource, { passphrase }: Config): Router {
  const router = Router();
  const sessions = new Sessions(database);
  const guesses = new Guesses();

  /** @throws access/passphrase, access/too-many */
  function requireRight(given: string, request: Request, response: Response): void {
    const address = request.socket.remoteAddress ?? '';
    try {
      guesses.requireOpen(address);
    } catch (error) {
      if (error instanceof TooManyTries) response.setHeader('Retry-After', String(error.seconds));
      throw error;
    }
    if (passphrase === null || equal(given, passphrase)) {
      guesses.forget(address);
      return;
    }
    guesses.wrong(address);
    throw new ZographosError(
      'access/passphrase',
      'This is not the passphrase of this server. Look it up and try again.',
    );
  }

  async function isIn(request: Request, response: Response): Promise<boolean> {
    if (passphrase === null) return true;
    const token = tokenOf(request);
    if (token !== null && (await sessions.goesOn(token))) return true;
    const [scheme, credentials = ''] = (request.headers.authorization ?? '').split(' ');
    if (scheme !== 'Basic') return false;
    const text = Buffer.from(credentials, 'base64').toString('utf8');
    requireRight(text.slice(text.indexOf(':') + 1), request, response);
    return true;
  }

  router.get(ENDPOINTS.readSession.path, async (request, response) => {
    response.json({ isNeeded: passphrase !== null, isIn: await isIn(request, response) });
  });
  router.post(ENDPOINTS.signIn.path, async (request, response) => {
    const { passphrase: given } = parseRequest(ENDPOINTS.signIn.body, request.body);
    requireRight(given, request, response);
    setCookie(request, response, await sessions.begin());
    response.status(204).end();
  });
  router.delete(ENDPOINTS.signOut.path, async (request, response) => {
    const token = tokenOf(request);
    if (token !== null) await sessions.end(token);
    setCookie(request, response, null);
    response.status(204).end();
  });
  const guard: RequestHandler = async (request, response, next) => {
    if (await isIn(request, response)) {
      next();
      return;
    }
    throw new ZographosError('access/passphrase', 'This server asks for its passphrase. Sign in with it.');
  };
  router.use('/api', guard);
  return router;
}

/** Not to be read by scripts, nor sent from pages of other origins; over HTTPS only where the page came that way. */
function setCookie(request: Request, response: Response, token: string | null): void {
  response.cookie(COOKIE, token ?? '', {
    httpOnly: true,
    sameSite: 'strict',
    path: '/api',
    secure: request.headers.origin?.startsWith('https:') ?? false,
    ...(token === null ? { maxAge: 0 } : {}),
  });
}

function tokenOf(request: Request): string | null {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [name, value] = part.trim().split('=');
    if (name === COOKIE && value) return value;
  }
  return null;
}

/** Compares digests, whose time tells nothing of where the texts differ. */
function equal(a: string, b: string): boolean {
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
