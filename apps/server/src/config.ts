import { DEFAULT_LIMITS, limitsFrom, type FormatLimits } from '@zographos/formats/meshes';
import { memoryLimitBytes } from '@zographos/operations/machine-memory';

export interface Config {
  databaseUrl: string;
  /** The address to listen on; beyond this machine only with a passphrase. */
  host: string;
  port: number;
  passphrase: string | null;
  /** Further host names under which the studio may be asked for, as `name` or `name:port`. */
  allowedHosts: string[];
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

/** Reads the settings of server and worker from the environment. Throws an Error whose message says what to set. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const databaseUrl = environment['DATABASE_URL'];
  if (!databaseUrl) throw new Error('Set DATABASE_URL to a PostgreSQL database, or use npm start.');
  const host = environment['ZOGRAPHOS_HOST'] ?? '127.0.0.1';
  const passphrase = environment['ZOGRAPHOS_PASSPHRASE'] || null;
  if (!LOOPBACK.includes(host) && !passphrase) {
    throw new Error(`Set ZOGRAPHOS_PASSPHRASE to listen on ${host}; without one only 127.0.0.1 is served.`);
  }
  return {
    databaseUrl,
    host,
    port: Number(environment['ZOGRAPHOS_PORT'] ?? 0),
    passphrase,
    allowedHosts: (environment['ZOGRAPHOS_ALLOWED_HOSTS'] ?? '').split(',').filter(Boolean),
    studioFolder: environment['ZOGRAPHOS_STUDIO'] ?? null,
    limits: limitsFrom(environment),
    maxExpandedBytes: Number(environment['ZOGRAPHOS_MAX_EXPANDED_BYTES']) || 4 * DEFAULT_LIMITS.bytes,
    memoryLimitBytes: memoryLimitBytes(environment),
    leaseSeconds: Number(environment['ZOGRAPHOS_LEASE_SECONDS']) || 10,
  };
}
