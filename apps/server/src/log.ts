import pino, { type Logger } from 'pino';

/** Structured logs on standard output; ZOGRAPHOS_LOG sets the level. */
export function createLog(name: string): Logger {
  return pino({ name, level: process.env['ZOGRAPHOS_LOG'] ?? 'info' });
}

export type { Logger };
