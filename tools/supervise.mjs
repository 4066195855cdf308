// Keeps the database, the server and the worker running: what ends without being asked to is started again, each time
// after a longer pause.
import { fork } from 'node:child_process';
import { nodeProgram } from './build.mjs';

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 30_000;
/** What has run this long has recovered: its next pause is the first again. */
const RECOVERED_MS = 10_000;
const LOOK_MS = 500;
/** What does not end when asked to within this is killed. */
const PATIENCE_MS = 8000;

/** @typedef {import('node:child_process').ChildProcess} ChildProcess */

/** Pauses before starting again: 0.5, 1, 2 … 30 seconds, the first again after ten seconds of running. */
export class BackOff {
  #pause = FIRST_PAUSE_MS;
  #startedAt = 0;

  started(now = Date.now()) {
    this.#startedAt = now;
  }

  /** Milliseconds to wait before the next start. */
  next(now = Date.now()) {
    if (now - this.#startedAt > RECOVERED_MS) this.#pause = FIRST_PAUSE_MS;
    const pause = this.#pause;
    this.#pause = Math.min(LONGEST_PAUSE_MS, 2 * pause);
    return pause;
  }
}

/** Database, server and worker of one installation. */
export class Supervisor {
  /** Where the studio is to be had. */
  address = '';
  /** Resolves once something that was never ready has ended: there is nothing to bring back. */
  failed;
  #cluster;
  #env;
  #say;
  #stopping = false;
  /** @type {Map<string, ChildProcess>} */
  #children = new Map();
  #fail = () => {};
  /** @type {NodeJS.Timeout | undefined} */
  #databaseTimer;

  /**
   * @param {object} options
   * @param {import('./postgres.mjs').Cluster | null} options.cluster the database, already started; null if it is somebody else's
   * @param {NodeJS.ProcessEnv} options.env settings of server and worker
   * @param {(sentence: string) => void} options.say told what has ended and what becomes of it
   */
  constructor({ cluster, env, say }) {
    this.#cluster = cluster;
    this.#env = env;
    this.#say = say;
    this.failed = new Promise((resolve) => (this.#fail = () => resolve(undefined)));
  }

  /** Starts the server, then the worker, and looks after all three. Returns the address of the studio. */
  async start() {
    this.#watchDatabase(new BackOff());
    this.address = await new Promise((resolve) => {
      this.#keep('server', new BackOff(), (message) => {
        const { address } = /** @type {{ address: string }} */ (message);
        // A server that comes back has to be where its pages look for it.
        this.#env = { ...this.#env, ZOGRAPHOS_PORT: new URL(address).port };
        resolve(address);
      });
    });
    await new Promise((resolve) => this.#keep('worker', new BackOff(), resolve));
    return this.address;
  }

  /** Process numbers, for what is running now. */
  get pids() {
    return {
      database: this.#cluster?.pid() ?? null,
      server: this.#children.get('server')?.pid ?? null,
      worker: this.#children.get('worker')?.pid ?? null,
    };
  }

  async stop() {
    if (this.#stopping) return;
    this.#stopping = true;
    clearTimeout(this.#databaseTimer);
    const children = [...this.#children.values()];
    const ended = children.map((child) => new Promise((resolve) => child.once('exit', resolve)));
    for (const child of children) child.kill('SIGTERM');
    const patience = setTimeout(() => children.forEach((child) => child.kill('SIGKILL')), PATIENCE_MS);
    await Promise.all(ended);
    clearTimeout(patience);
    this.#cluster?.stop();
  }

  /**
   * @param {'server' | 'worker'} program
   * @param {BackOff} backOff
   * @param {(message: unknown) => void} onReady told whenever the process says that it is ready
   * @param {boolean} wasReady whether it has been ready before
   */
  #keep(program, backOff, onReady, wasReady = false) {
    // A group of its own: Ctrl+C in the terminal reaches only this process, which stops the rest in order.
    const child = fork(nodeProgram(program), { env: this.#env, detached: true });
    this.#children.set(program, child);
    backOff.started();
    let isReady = wasReady;
    child.once('message', (message) => {
      if (wasReady) this.#say(`The ${program} is back.`);
      isReady = true;
      onReady(message);
    });
    child.once('exit', () => {
      this.#children.delete(program);
      if (this.#stopping) return;
      if (!isReady) {
        this.#fail();
        return;
      }
      const pause = backOff.next();
      this.#say(`The ${program} ended unexpectedly and is started again in ${pause / 1000} s. Nothing is lost.`);
      setTimeout(() => {
        if (!this.#stopping) this.#keep(program, backOff, onReady, true);
      }, pause);
    });
  }

  /** @param {BackOff} backOff */
  #watchDatabase(backOff) {
    const cluster = this.#cluster;
    if (!cluster) return;
    backOff.started();
    const look = () => {
      if (cluster.pid() !== null) {
        this.#databaseTimer = setTimeout(look, LOOK_MS);
        return;
      }
      const pause = backOff.next();
      this.#say(`The database ended unexpectedly and is started again in ${pause / 1000} s. Nothing is lost.`);
      this.#databaseTimer = setTimeout(() => void this.#bringDatabaseBack(backOff, look), pause);
    };
    this.#databaseTimer = setTimeout(look, LOOK_MS);
  }

  /** @param {BackOff} backOff @param {() => void} look */
  async #bringDatabaseBack(backOff, look) {
    try {
      await this.#cluster?.startAgain();
      backOff.started();
      this.#say('The database is back.');
    } catch (error) {
      // Processes of the one that was killed may still hold its memory; the next look finds it away once more.
      this.#say(`The database did not start: ${error instanceof Error ? error.message.split('\n')[0] : error}`);
    }
    if (!this.#stopping) look();
  }
}
