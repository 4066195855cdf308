import compression from 'compression';
import type { RequestHandler } from 'express';

/** Nothing of the API is kept by browsers or by what stands between, unless a route knows that it never changes. */
export const keepNothing: RequestHandler = (_request, response, next) => {
  response.setHeader('Cache-Control', 'no-store');
  next();
};

/** Text is compressed; pictures, meshes and archives are so already, or are streamed with their length. */
export const compressText: RequestHandler = compression({
  filter: (_request, response) =>
    /^(text\/(?!event-stream)|application\/(json|javascript)|image\/svg)/.test(
      String(response.getHeader('Content-Type')),
    ),
});
