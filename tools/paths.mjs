import path from 'node:path';

/** The folder of the project. */
export const ROOT = path.resolve(import.meta.dirname, '..');
