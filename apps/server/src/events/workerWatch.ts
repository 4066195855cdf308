import type { DataSource } from 'typeorm';
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

/** Tells the pages that look at a project when the last worker goes and when one comes. */
export class WorkerWatch {
  /** As last seen; taken for there until somebody looks. */
  up = true;
  private readonly timer: NodeJS.Timeout;

  constructor(database: DataSource, hub: EventHub) {
    this.timer = setInterval(() => {
      if (hub.isHeard) void this.look(database, hub);
    }, LOOK_MS).unref();
  }

  close(): void {
    clearInterval(this.timer);
  }

  private async look(database: DataSource, hub: EventHub): Promise<void> {
    try {
      const up = await isWorkerThere(database);
      if (up === this.up) return;
      this.up = up;
      hub.publish({ type: 'worker', up });
    } catch {
      // That the database is away is told by its own event.
    }
  }
}
