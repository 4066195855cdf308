import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import type { RequestHandler, Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { ZographosError } from '@zographos/core/errors';
import type { Config } from '../config.ts';

/**
 * Answers only to the names this server goes by, and lets pages of other origins change nothing: a page
 * elsewhere must not reach the studio through the artist's browser (DNS rebinding, cross-site requests).
 */
export function checkHostAndOrigin(config: Config): RequestHandler {
  return (request, _response, next) => {
    const host = request.headers.host ?? '';
    const port = request.socket.localPort;
    const allowed = [
      ...['127.0.0.1', 'localhost', '[::1]', config.host].map((name) => `${name}:${port}`),
      ...config.allowedHosts,
    ];
    if (!allowed.includes(host)) {
      throw new ZographosError(
        'access/forbidden',
        `This server is not known as “${host}”. Open it under its own address, or add the name to ZOGRAPHOS_ALLOWED_HOSTS.`,
      );
    }
    const { origin } = request.headers;
    const foreign =
      origin !== undefined && !allowed.some((name) => origin === `http://${name}` || origin === `https://${name}`);
    if (foreign && request.method !== 'HEAD') {
      throw new ZographosError('access/forbidden', 'Requests from pages of another origin are refused.');
    }
    next();
  };
}

/** Wrong passphrases that one address may try in a minute. */
const TRIES_PER_MINUTE = 20;

/** Asks for the passphrase by HTTP basic authentication, any user name, where one is set; guessing it is slowed down. */
export function checkPassphrase(passphrase: string | null): RequestHandler[] {
  if (passphrase === null) return [];
  const slow = rateLimit({
    windowMs: 60_000,
    limit: TRIES_PER_MINUTE,
    skipSuccessfulRequests: true,
    requestWasSuccessful: (_request, response) => response.statusCode !== 401,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, _response, next) => {
      next(
        new ZographosError(
          'access/too-many',
          'Too many wrong passphrases from this address. Wait a minute and try again.',
        ),
      );
    },
  });
  return [slow, askFor(passphrase)];
}

function askFor(passphrase: string): RequestHandler {
  return (request, response, next) => {
    const [scheme, credentials = ''] = (request.headers.authorization ?? '').split(' ');
    const given = Buffer.from(credentials, 'base64').toString('utf8');
    if (scheme === 'Basic' && equal(given.slice(given.indexOf(':') + 1), passphrase)) {
      next();
      return;
    }
    response.setHeader('WWW-Authenticate', 'Basic realm="Zographos", charset="UTF-8"');
    throw new ZographosError('access/passphrase', 'This server asks for its passphrase.');
  };
}

function equal(a: string, b: string): boolean {
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}

/**
 * Isolation (for SharedArrayBuffer) and a policy under which only our own scripts and styles run. The component library
 * adds its styles at run time, each with the nonce of the page.
 */
export const securityHeaders: RequestHandler[] = [
  (_request, response, next) => {
    response.locals['nonce'] = randomBytes(16).toString('base64');
    next();
  },
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", (_request, response) => `'nonce-${nonceOf(response as Response)}'`],
        imgSrc: ["'self'", 'blob:', 'data:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'", 'blob:'],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    // The server speaks plain HTTP; whoever puts TLS before it says so there.
    strictTransportSecurity: false,
  }),
];

export const nonceOf = (response: Response): string => response.locals['nonce'] as string;
