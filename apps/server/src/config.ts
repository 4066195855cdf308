import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { DEFAULT_LIMITS, limitFrom, limitsFrom, type FormatLimits } from '@zographos/formats/meshes';
import { memoryLimitBytes } from '@zographos/operations/machine-memory';

export interface Config {
  databaseUrl: string;
  /** The address to listen on; beyond this machine only with a passphrase. */
  host: string;
  port: number;
  passphrase: string | null;
  /** Further host names under which the studio may be asked for, as `name` or `name:port`. */
  allowedHosts: string[];
  /** Where the database lies, if that is on this machine; tells how full its disk is. */
  databaseFolder: string | null;
  /** Where the built studio lies; null serves the API alone. */
  studioFolder: string | null;
  limits: FormatLimits;
  /** Bytes an archive may unfold to. */
  maxExpandedBytes: number;
  memoryLimitBytes: number;
  /** Seconds after which a run whose worker is silent is given to another. */
  leaseSeconds: number;
}

const LOOPBACK = ['127.0.0.1', 'localhost', '::1'];

const text = z.string().optional();

const environmentSchema = z.object({
  DATABASE_URL: z.string({ error: 'Set DATABASE_URL to a PostgreSQL database, or use npm start.' }).min(1),
  ZOGRAPHOS_HOST: z.string().min(1).default('127.0.0.1'),
  ZOGRAPHOS_PORT: z.preprocess((value) => value || '0', z.coerce.number().int().min(0).max(65_535)),
  ZOGRAPHOS_PASSPHRASE: text,
  ZOGRAPHOS_ALLOWED_HOSTS: z.string().default(''),
  ZOGRAPHOS_STUDIO: text,
  ZOGRAPHOS_DATABASE_FOLDER: text,
});

/**
 * Reads the settings of server and worker from the environment.
 * @throws input/bad-settings whose message says what to set, for what is missing or is not usable
 */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const parsed = environmentSchema.safeParse(environment);
  if (!parsed.success) {
    const [
      {
        path: [name = ''],
        message,
      },
    ] = parsed.error.issues as [z.core.$ZodIssue];
    const given = environment[String(name)];
    throw new ZographosError(
      'input/bad-settings',
      given === undefined ? message : `${String(name)} is “${given}”. ${message}.`,
    );
  }
  const { data } = parsed;
  const passphrase = data.ZOGRAPHOS_PASSPHRASE || null;
  if (!LOOPBACK.includes(data.ZOGRAPHOS_HOST) && !passphrase) {
    throw new ZographosError(
      'input/bad-settings',
      `Set ZOGRAPHOS_PASSPHRASE to listen on ${data.ZOGRAPHOS_HOST}; without one only 127.0.0.1 is served.`,
    );
  }
  return {
    databaseUrl: data.DATABASE_URL,
    host: data.ZOGRAPHOS_HOST,
    port: data.ZOGRAPHOS_PORT,
    passphrase,
    allowedHosts: data.ZOGRAPHOS_ALLOWED_HOSTS.split(',').filter(Boolean),
    databaseFolder: data.ZOGRAPHOS_DATABASE_FOLDER ?? null,
    studioFolder: data.ZOGRAPHOS_STUDIO ?? null,
    limits: limitsFrom(environment),
    maxExpandedBytes: limitFrom(environment, 'ZOGRAPHOS_MAX_EXPANDED_BYTES', 4 * DEFAULT_LIMITS.bytes),
    memoryLimitBytes: memoryLimitBytes(environment),
    leaseSeconds: limitFrom(environment, 'ZOGRAPHOS_LEASE_SECONDS', 10),
  };
}
