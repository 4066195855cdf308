import type { Response } from 'express';

/** A name that is safe as a file name on any system, and still readable. */
export function fileName(name: string): string {
  return (
    name
      .normalize('NFKD')
      .replace(/[^\w.-]+/g, '_')
      .replace(/^_+|_+$/g, '') || 'map'
  );
}

/** Sends what follows as a file to be saved. */
export function attach(response: Response, name: string, mime: string): void {
  response.attachment(name);
  response.setHeader('Content-Type', mime);
}

/** How long an answer may be kept whose content never changes under its address. */
export const FOR_EVER = 'private, max-age=31536000, immutable';
