import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import type { RequestHandler, Response } from 'express';
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

/** Asks for the passphrase by HTTP basic authentication, any user name, where one is set. */
export function checkPassphrase(passphrase: string | null): RequestHandler {
  return (request, response, next) => {
    if (passphrase === null) {
      next();
      return;
    }
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

/** Isolation (for SharedArrayBuffer) and a policy under which only our own scripts and styles run. */
export const securityHeaders: RequestHandler = (_request, response, next) => {
  const nonce = randomBytes(16).toString('base64');
  response.locals['nonce'] = nonce;
  response.setHeader('Content-Security-Policy', contentSecurityPolicy(nonce));
  response.setHeader('Cross-Origin-Opener-Policy', 'same-origin');
  response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
  response.setHeader('X-Content-Type-Options', 'nosniff');
  response.setHeader('Referrer-Policy', 'no-referrer');
  next();
};

export const nonceOf = (response: Response): string => response.locals['nonce'] as string;

function contentSecurityPolicy(nonce: string): string {
  return [
    `default-src 'none'`,
    `script-src 'self' 'wasm-unsafe-eval'`,
    // The component library adds its styles at run time, each with this page's nonce.
    `style-src 'self' 'nonce-${nonce}'`,
    `img-src 'self' blob: data:`,
    `font-src 'self'`,
    `connect-src 'self'`,
    `worker-src 'self' blob:`,
    `base-uri 'none'`,
    `form-action 'self'`,
    `frame-ancestors 'none'`,
  ].join('; ');
}
