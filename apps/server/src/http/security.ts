import { randomBytes } from 'node:crypto';
import type { RequestHandler, Response } from 'express';
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
