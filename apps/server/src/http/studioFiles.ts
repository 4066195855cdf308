import path from 'node:path';
import { readFile } from 'node:fs/promises';
import express, { Router } from 'express';
import { nonceOf } from './security.ts';

/** Serves the built studio; every address that is no file is one of its rooms and gets its page. */
export function studioFiles(folder: string): Router {
  const router = Router();
  router.use(
    '/assets',
    express.static(path.join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  router.use(express.static(folder, { index: false }));
  router.get(/^\/(?!api\/)/, async (_request, response) => {
    const page = await readFile(path.join(folder, 'index.html'), 'utf8');
    response.type('html').setHeader('Cache-Control', 'no-store');
    response.send(page.replaceAll('%NONCE%', nonceOf(response)));
  });
  return router;
}
