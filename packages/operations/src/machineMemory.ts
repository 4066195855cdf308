import os from 'node:os';

/** Bytes a single run may take: ZOGRAPHOS_MAX_MEMORY_MB, else three quarters of the machine. */
export function memoryLimitBytes(environment: NodeJS.ProcessEnv = process.env): number {
  const megabytes = Number(environment['ZOGRAPHOS_MAX_MEMORY_MB']);
  return megabytes > 0 ? megabytes * 1e6 : os.totalmem() * 0.75;
}
