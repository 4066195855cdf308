import type { Request, RequestHandler, Response, Router } from 'express';
import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import type { Endpoint } from '@zographos/contracts';

type Handler<E extends Endpoint> = (
  body: z.infer<E['body']>,
  params: Record<string, string>,
) => Promise<z.input<E['response']>>;

/** Puts an endpoint of the contract on a router; its body is checked on the way in. */
export function answer<E extends Endpoint>(router: Router, endpoint: E, handler: Handler<E>): void {
  router[endpoint.method](endpoint.path, async (request: Request, response: Response) => {
    const expectsBody = !(endpoint.body instanceof z.ZodUndefined);
    const body = expectsBody ? parseRequest(endpoint.body, request.body) : undefined;
    const result = await handler(body as z.infer<E['body']>, params(request));
    if (result === undefined) response.status(204).end();
    else response.json(result);
  });
}

/** A handler of plain requests and answers with its identifiers checked. */
export function plain(
  handler: (params: Record<string, string>, request: Request, response: Response) => Promise<void>,
): RequestHandler {
  return (request, response) => handler(params(request), request, response);
}

/** @throws missing/not-found for an identifier that cannot be one */
function params(request: Request): Record<string, string> {
  const found: Record<string, string> = {};
  for (const [name, value] of Object.entries(request.params)) {
    const text = String(value);
    if (/^id$|Id$/.test(name) && !z.uuid().safeParse(text).success) {
      throw new ZographosError(
        'missing/not-found',
        'There is nothing at this address. Go back and load the page again.',
      );
    }
    found[name] = text;
  }
  return found;
}

/** @throws input/bad-request naming the first thing that is wrong */
export function parseRequest<Schema extends z.ZodType>(schema: Schema, given: unknown): z.infer<Schema> {
  const parsed = schema.safeParse(given);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const message = issue!.message.replace(/\.?$/, '.');
  throw new ZographosError('input/bad-request', `“${issue!.path.join('.') || 'request'}”: ${message}`);
}
