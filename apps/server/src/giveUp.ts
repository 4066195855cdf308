import { ZographosError } from '@zographos/core/errors';
import { isDatabaseDown } from './http/errors.ts';

/**
 * Ends a process that cannot start, with one sentence that says why and what to do; a fault of ours shows its stack.
 * @example await start().catch(giveUp);
 */
export function giveUp(error: unknown): never {
  process.stderr.write(`${whyNot(error)}\n`);
  process.exit(1);
}

/** What stands in the way of a start. */
function whyNot(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  if (error instanceof ZographosError) return error.message;
  const { code, syscall, address, port } = error as NodeJS.ErrnoException & { address?: string; port?: number };
  if (syscall === 'listen' && code === 'EADDRINUSE') {
    return `Port ${port} of ${address} is taken by another program. End it, or set another port with ZOGRAPHOS_PORT.`;
  }
  if (syscall === 'listen') {
    return `Listening on ${address}, port ${port}, is not possible (${code}). Set ZOGRAPHOS_HOST and ZOGRAPHOS_PORT to an address of this machine that its user may listen on.`;
  }
  if (code === '28P01' || code === '28000' || code === '3D000') {
    return `The database refuses DATABASE_URL: ${error.message}. Set it to a database, user and password that exist.`;
  }
  if (isDatabaseDown(error)) {
    return `The database that DATABASE_URL names does not answer (${error.message || code}). Start it, or leave DATABASE_URL out for one of our own.`;
  }
  return error.stack ?? error.message;
}
