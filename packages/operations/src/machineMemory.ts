import os from 'node:os';
import { limitFrom } from '@zographos/formats/images';

/**
 * Bytes a single run may take: ZOGRAPHOS_MAX_MEMORY_MB, else three quarters of the machine.
 * @throws input/bad-settings for what is not a whole number above 0
 */
export const memoryLimitBytes = (environment: NodeJS.ProcessEnv = process.env): number =>
  limitFrom(environment, 'ZOGRAPHOS_MAX_MEMORY_MB', Math.floor((os.totalmem() * 0.75) / 1e6)) * 1e6;
