import type { DataSource } from 'typeorm';
import type { ServerEvent } from '@zographos/contracts';
import { diskRoom } from '../blobs/storage.ts';
import { WORKER_NAME } from '../data/database.ts';
import type { EventHub } from './eventHub.ts';

const LOOK_MS = 2000;

/** Whether any worker is connected to the database. Rejects while the database does not answer. */
export async function isWorkerThere(database: DataSource): Promise<boolean> {
  const [row] = await database.query<[{ there: boolean }]>(
    `SELECT EXISTS (
       SELECT FROM pg_stat_activity WHERE application_name = $1 AND datname = current_database()
     ) AS there`,
    [WORKER_NAME],
  );
  return row.there;
}

/** Tells the pages that look at a project when the last worker goes or one comes, and when the disk gets full. */
export class EnvironmentWatch {
  private readonly states = new Map<ServerEvent['type'], { event: ServerEvent; state: boolean }>();
  private readonly timer: NodeJS.Timeout;
  private readonly database: DataSource;
  private readonly hub: EventHub;

  /** @param databaseFolder where the database lies, if that is on this machine */
  constructor(database: DataSource, hub: EventHub, databaseFolder: string | null) {
    this.database = database;
    this.hub = hub;
    this.timer = setInterval(() => {
      if (!hub.isHeard) return;
      // That the database is away is told by its own event.
      void this.look(databaseFolder).catch(() => {});
    }, LOOK_MS).unref();
  }

  /** What a page that comes now has to know. */
  get state(): ServerEvent[] {
    return [...this.states.values()].map(({ event }) => event);
  }

  close(): void {
    clearInterval(this.timer);
  }

  private async look(databaseFolder: string | null): Promise<void> {
    const up = await isWorkerThere(this.database);
    this.tell({ type: 'worker', up }, up);
    const disk = await diskRoom(databaseFolder);
    if (disk) this.tell({ type: 'disk', ...disk }, disk.isScarce);
  }

  /** Publishes an event whose state is another than that of the last. */
  private tell(event: ServerEvent, state: boolean): void {
    if (this.states.get(event.type)?.state === state) return;
    this.states.set(event.type, { event, state });
    this.hub.publish(event);
  }
}
