import pg from 'pg';
import type { DataSource } from 'typeorm';
import type { ServerEvent } from '@zographos/contracts';
import { CONNECT_MS } from '../data/database.ts';

/** What workers and servers tell each other through the database they share. */
export type ChannelMessage =
  ServerEvent | { type: 'queued' } | { type: 'cancel'; runId: string } | { type: 'finish'; runId: string };

const CHANNEL = 'zographos';
const RETRY_MS = 1000;

export async function announce(database: DataSource, message: ChannelMessage): Promise<void> {
  await database.query(`SELECT pg_notify('${CHANNEL}', $1)`, [JSON.stringify(message)]);
}

/**
 * Listens for messages on a connection of its own and connects again whenever it breaks.
 * @param onMessage told each message, and `{type: 'database', up}` when the connection goes or comes
 */
export class Channel {
  private client: pg.Client | null = null;
  private closed = false;
  private readonly url: string;
  private readonly onMessage: (message: ChannelMessage) => void;
  up = false;

  constructor(url: string, onMessage: (message: ChannelMessage) => void) {
    this.url = url;
    this.onMessage = onMessage;
  }

  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url, connectionTimeoutMillis: CONNECT_MS, keepAlive: true });
    let ended = false;
    const onEnd = (): void => {
      if (ended) return;
      ended = true;
      client.removeAllListeners('notification');
      this.setUp(false);
      if (!this.closed) setTimeout(() => void this.open(), RETRY_MS);
    };
    client.on('error', onEnd);
    client.on('end', onEnd);
    client.on('notification', ({ payload }) => {
      if (payload) this.onMessage(JSON.parse(payload) as ChannelMessage);
    });
    try {
      await client.connect();
      await client.query(`LISTEN ${CHANNEL}`);
      this.client = client;
      this.setUp(true);
    } catch {
      void client.end().catch(() => {});
      onEnd();
    }
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.client?.end().catch(() => {});
  }

  private setUp(up: boolean): void {
    if (up === this.up) return;
    this.up = up;
    if (!this.closed) this.onMessage({ type: 'database', up });
  }
}
