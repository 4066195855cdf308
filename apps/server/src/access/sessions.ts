import { createHash, randomBytes } from 'node:crypto';
import type { DataSource } from 'typeorm';

/** A session that is not used for this long ends. */
const IDLE_SECONDS = 12 * 3600;
/** Each ends after this, however much it is used. */
const LONGEST_SECONDS = 7 * 24 * 3600;
/** What the database said is believed for this long, for pages ask for many pictures at once. */
const BELIEVED_MS = 30_000;

/**
 * Who has given the passphrase. The browser holds a random token, the database its SHA-256, so that reading the database
 * lets nobody in.
 */
export class Sessions {
  private readonly database: DataSource;
  private readonly seen = new Map<string, number>();

  constructor(database: DataSource) {
    this.database = database;
  }

  /** Begins a session; returns its token. Sessions that are over are removed. */
  async begin(): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    await this.database.query(`DELETE FROM session WHERE ${IS_OVER}`);
    await this.database.query(`INSERT INTO session (hash) VALUES ($1)`, [hashOf(token)]);
    return token;
  }

  /** Whether a session goes on; using it keeps it from ending. */
  async goesOn(token: string): Promise<boolean> {
    const hash = hashOf(token);
    if ((this.seen.get(hash) ?? 0) > Date.now() - BELIEVED_MS) return true;
    const [, count] = await this.database.query<[unknown, number]>(
      `UPDATE session SET "usedAt" = now() WHERE hash = $1 AND NOT (${IS_OVER})`,
      [hash],
    );
    if (count === 0) {
      this.seen.delete(hash);
      return false;
    }
    this.seen.set(hash, Date.now());
    return true;
  }

  async end(token: string): Promise<void> {
    const hash = hashOf(token);
    this.seen.delete(hash);
    await this.database.query(`DELETE FROM session WHERE hash = $1`, [hash]);
  }
}

const IS_OVER = `"usedAt" < now() - interval '${IDLE_SECONDS} seconds' OR "createdAt" < now() - interval '${LONGEST_SECONDS} seconds'`;

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
