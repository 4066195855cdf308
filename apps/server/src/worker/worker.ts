import os from 'node:os';
import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import { sharedImage } from '@zographos/core/image';
import { strokesOf } from '@zographos/core/layers';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import { encodeThumbnail } from '@zographos/formats/images';
import { eachInput } from '@zographos/operations';
import { isDivisible } from '@zographos/operations/bake';
import { RUN_FLAG, type Canvas, type HeldMap, type Progress } from '@zographos/operations/run-context';
import { BlobStore } from '../blobs/blobStore.ts';
import type { Config } from '../config.ts';
import { runs, type RunInput, type RunRow } from '../data/entities.ts';
import { readProjectSummary } from '../data/readProject.ts';
import { factsOf, readRunSets, type RunSetRow } from '../data/runSets.ts';
import { diskFullError } from '../data/diskFull.ts';
import { announce, Channel } from '../events/channel.ts';
import type { Logger } from '../log.ts';
import { earlierBake, mapsOfTile, type PackedEarlierBake } from './earlierBake.ts';
import { OperationHost } from './operationHost.ts';
import { MadeThings } from './madeThings.ts';
import type { OperationAsk, OperationRequest, PackedInput, PackedSet } from './operationThread.ts';
import { placeResults, type Place } from './placeResults.ts';
import { readStrokes } from '../runs/strokes.ts';
import { enqueueRun, renewLease, returnLapsedRuns, takeRun } from '../runs/queue.ts';
import { reducedCanvas } from './reducedCopy.ts';
import { loadMapImage, loadMapStates, readMapImage } from '../data/mapImages.ts';
import { wornGlb } from '../meshes/wornMaps.ts';

const PREVIEW_SIDE = 256;
const PREVIEW_MS = 500;
const PROGRESS_MS = 200;
const IDLE_MS = 1000;
const SWEEP_MS = 10 * 60_000;

/**
 * Takes runs from the queue one after another and computes them. Any number of workers may serve one database;
 * what a worker that dies was doing is taken up by the next.
 */
export class RunWorker {
  private readonly id = `${os.hostname()}:${process.pid}:${randomUUID().slice(0, 8)}`;
  private readonly database: DataSource;
  private readonly config: Config;
  private readonly log: Logger;
  private readonly blobs: BlobStore;
  private readonly host = new OperationHost();
  private readonly channel: Channel;
  private current: { runId: string; cancelFlag: Int32Array } | null = null;
  private wake: () => void = () => {};
  private stopping = false;
  private loop: Promise<void> | null = null;
  private sweptAt = 0;

  constructor(database: DataSource, config: Config, log: Logger) {
    this.database = database;
    this.config = config;
    this.log = log;
    this.blobs = new BlobStore(database);
    this.channel = new Channel(config.databaseUrl, (message) => {
      if (message.type === 'queued' || (message.type === 'database' && message.up)) this.wake();
      if ((message.type !== 'cancel' && message.type !== 'finish') || message.runId !== this.current?.runId) return;
      if (message.type === 'cancel') this.cancelCurrent();
      else this.finishCurrent();
    });
  }

  async start(): Promise<void> {
    await this.channel.open();
    this.loop = this.work();
  }

  /** Stops after cancelling what is under way; its lease is given back, so that it is taken up again at once. */
  async stop(): Promise<void> {
    this.stopping = true;
    this.cancelCurrent();
    this.wake();
    await this.loop;
    await this.channel.close();
    await this.host.close();
  }

  private cancelCurrent(): void {
    if (this.current) Atomics.store(this.current.cancelFlag, 0, RUN_FLAG.cancel);
  }

  /** Is content with the best so far, unless it is to stop altogether. */
  private finishCurrent(): void {
    if (this.current) Atomics.compareExchange(this.current.cancelFlag, 0, 0, RUN_FLAG.enough);
  }

  private async work(): Promise<void> {
    while (!this.stopping) {
      const idle = new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, IDLE_MS);
        this.wake = () => {
          clearTimeout(timer);
          resolve();
        };
      });
      try {
        await returnLapsedRuns(this.database);
        await this.sweepNowAndThen();
        const run = await takeRun(this.database, this.id, this.config.leaseSeconds);
        if (run) {
          await this.carryOut(run);
          continue;
        }
      } catch (error) {
        this.log.warn({ error: String(error) }, 'database not reachable, trying again');
      }
      await idle;
    }
  }

  private async sweepNowAndThen(): Promise<void> {
    if (Date.now() - this.sweptAt < SWEEP_MS) return;
    this.sweptAt = Date.now();
    const swept = await this.blobs.sweep();
    if (swept > 0) this.log.info({ swept }, 'swept unused bytes');
  }

  private async carryOut(run: RunRow): Promise<void> {
    const { id: runId, projectId } = run;
    const cancelFlag = sharedInt32(1);
    this.current = { runId, cancelFlag };
    const reporter = new ProgressReporter(this.database, run);
    const lease = setInterval(() => void this.keepLease(runId, cancelFlag), (this.config.leaseSeconds * 1000) / 4);
    try {
      await announce(this.database, { type: 'changed', projectId });
      const started = performance.now();
      const inputs = await eachInput(run.inputs, (input) => this.load(input));
      const sets = await this.setsOf(run);
      const request: OperationRequest = {
        operation: run.operation,
        settings: run.settings,
        inputs,
        sets: sets.map((set) => packedSet(set, run)),
        strokes: run.operation === 'layers' ? await readStrokes(this.blobs, strokesOf(run.settings.layers)) : [],
        project: (await readProjectSummary(this.database, projectId)).name,
        region: run.region,
        earlier: await this.earlier(run),
        threads: os.availableParallelism(),
        memoryLimitBytes: this.config.memoryLimitBytes,
        cancelFlag,
        loadSeconds: (performance.now() - started) / 1000,
      };
      await this.publish(run, await this.compute(run, request, sets, reporter, started));
      this.log.info({ runId, seconds: (performance.now() - started) / 1000 }, 'run finished');
    } catch (error) {
      await this.recordFailure(run, error);
    } finally {
      clearInterval(lease);
      await reporter.close();
      this.current = null;
      await announce(this.database, { type: 'changed', projectId }).catch(() => {});
    }
  }

  private async earlier(run: RunRow): Promise<PackedEarlierBake | null> {
    if (run.operation !== 'bake') return null;
    if (run.region) return mapsOfTile(this.database, this.blobs, run, run.region.tile);
    return isDivisible(run.settings) ? earlierBake(this.database, this.blobs, run) : null;
  }

  private async load({ contentHash: hash, name, file = name, revisionId, meaning }: RunInput): Promise<PackedInput> {
    if (revisionId) {
      const image = sharedImage(await readMapImage(this.database, this.blobs, revisionId));
      return { hash, name, file, packed: new Uint8Array(0), image };
    }
    return { hash, name, file, packed: await this.blobs.readBytes(hash), ...meaning };
  }

  /** The image sets that a run works on, in the order of its settings. */
  private async setsOf(run: RunRow): Promise<RunSetRow[]> {
    if (run.operation === 'deliver') return readRunSets(this.database, run.projectId, run.settings.sets);
    if (run.operation !== 'atlas') return [];
    const ids = run.settings.sets.map(({ imageSet }) => imageSet);
    return readRunSets(this.database, run.projectId, ids);
  }

  private async keepLease(runId: string, cancelFlag: Int32Array): Promise<void> {
    try {
      const { held, cancelRequested, finishRequested } = await renewLease(
        this.database,
        runId,
        this.id,
        this.config.leaseSeconds,
      );
      if (!held || cancelRequested) Atomics.store(cancelFlag, 0, RUN_FLAG.cancel);
      else if (finishRequested) this.finishCurrent();
    } catch {
      // The database is away; the lease is renewed when it is back, or another worker takes the run.
    }
  }

  /** Computes a run and stores what it makes, one thing after the other. */
  private async compute(
    run: RunRow,
    request: OperationRequest,
    sets: readonly RunSetRow[],
    reporter: ProgressReporter,
    started: number,
  ): Promise<{ report: object; place: Place }> {
    const { database } = this;
    const made = new MadeThings(this.blobs);
    try {
      const done = await this.host.run(request, {
        onMessage: (message) => {
          if (message.kind === 'progress') reporter.progress(message.progress);
          else reporter.canvas = message.canvas;
        },
        answer: (ask) => (ask.ask === 'put' ? made.put(ask.made) : this.answer(ask, sets)),
      });
      const ended = { database, made, done, started, computed: performance.now() };
      const place = await placeResults(run, ended);
      return { report: done.report, place };
    } catch (error) {
      await made.discard();
      throw error;
    }
  }

  /** What an operation asks for while it runs: a map of one of its sets, or the mesh that wears it. */
  private async answer(
    ask: Exclude<OperationAsk, { ask: 'put' }>,
    sets: readonly RunSetRow[],
  ): Promise<HeldMap | Uint8Array> {
    const set = sets[ask.set]!;
    if (ask.ask === 'mesh') return wornGlb(this.database, this.blobs, set.id);
    const { revision } = set.maps.find(({ kind, tile }) => kind === ask.kind && tile === ask.tile)!;
    const [image, states] = [await loadMapImage(this.blobs, revision), await loadMapStates(this.blobs, revision)];
    return { image: sharedImage(image), states };
  }

  /** Shows what was made, in one transaction: all of it appears, or nothing. */
  private async publish(run: RunRow, { report, place }: { report: object; place: Place }): Promise<void> {
    const after = await this.database.transaction(async (manager) => {
      const finished = await manager.getRepository(runs).update(
        { id: run.id, state: 'running', workerId: this.id },
        {
          state: 'done',
          share: 1,
          secondsLeft: null,
          finishedAt: new Date(),
          report,
          workerId: null,
          leaseUntil: null,
        },
      );
      // The lease went to another worker, which makes the same bytes: leave it to that one.
      return finished.affected ? place(manager) : undefined;
    });
    await after?.();
    // Asked now, for a ticket may have begun to wait for it meanwhile.
    const { followedBy } = await this.database.getRepository(runs).findOneByOrFail({ id: run.id });
    if (followedBy[0]) await this.follow(run.id, followedBy[0], followedBy.slice(1));
  }

  /** Runs a ticket that has waited for this run; what hinders it is no fault of this run. */
  private async follow(runId: string, ticketId: string, further: readonly string[]): Promise<void> {
    try {
      await enqueueRun(this.database, ticketId, null, further);
    } catch (error) {
      this.log.warn({ runId, ticketId, error: String(error) }, 'the run that was to follow could not be asked for');
    }
  }

  private async recordFailure(run: RunRow, thrown: unknown): Promise<void> {
    const error = diskFullError(thrown) ?? thrown;
    const known = error instanceof ZographosError;
    const code: ErrorCode = known ? error.code : 'service/database';
    const place = { id: run.id, workerId: this.id, state: 'running' } as const;
    const over = { finishedAt: new Date(), workerId: null, leaseUntil: null };
    const repository = this.database.getRepository(runs);
    if (!known || code === 'run/failed')
      this.log.error({ runId: run.id, error: String(error), cause: known ? error.cause : undefined }, 'run failed');
    if (!known) {
      // Not the run's fault: the lease lapses, and it is taken up again.
      return;
    }
    if (code === 'run/cancelled') {
      const row = await repository.findOneBy({ id: run.id });
      if (row?.cancelRequested) await repository.update(place, { ...over, state: 'cancelled' });
      else
        await repository.update(place, {
          state: 'queued',
          attempts: run.attempts - 1,
          workerId: null,
          leaseUntil: null,
        });
      return;
    }
    await repository.update(place, {
      ...over,
      state: 'failed',
      error: { code, message: error.message },
    });
  }
}

/** A set as it travels to the operation. */
function packedSet(set: RunSetRow, { inputs }: RunRow): PackedSet {
  const { tileWidth, uvSet, meshIds, maps } = set;
  const receivers = inputs.receivers.flatMap(({ assetId }, i) => (meshIds.includes(assetId) ? [i] : []));
  return { ...factsOf(set), tileWidth, uvSet, receivers, made: maps.map(({ madeBy }) => madeBy) };
}

/** Tells the studio how a run gets on, a few times a second at the most. */
class ProgressReporter {
  canvas: Canvas | null = null;
  private readonly database: DataSource;
  private readonly run: RunRow;
  private previewVersion: number;
  private toldAt = 0;
  private toldStage: Progress['stage'] | null = null;
  private readonly timer: NodeJS.Timeout;
  private busy: Promise<void> = Promise.resolve();

  constructor(database: DataSource, run: RunRow) {
    this.database = database;
    this.run = run;
    this.previewVersion = run.previewVersion;
    this.timer = setInterval(() => {
      this.busy = this.busy.then(() => this.preview()).catch(() => {});
    }, PREVIEW_MS);
  }

  progress({ stage, share, secondsLeft, note = null }: Progress): void {
    const now = Date.now();
    // The beginning of a stage is always told.
    if (now - this.toldAt < PROGRESS_MS && stage === this.toldStage) return;
    this.toldAt = now;
    this.toldStage = stage;
    this.busy = this.busy.then(() => this.tell(stage, share, secondsLeft, note)).catch(() => {});
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await this.busy;
  }

  private async tell(
    stage: Progress['stage'],
    share: number,
    secondsLeft: number | null,
    note: string | null,
  ): Promise<void> {
    const { id: runId, projectId } = this.run;
    await this.database
      .getRepository(runs)
      .update({ id: runId, state: 'running' }, { stage, share, secondsLeft, note });
    const { previewVersion } = this;
    await announce(this.database, {
      type: 'progress',
      projectId,
      runId,
      stage,
      share,
      secondsLeft,
      note,
      previewVersion,
    });
  }

  private async preview(): Promise<void> {
    if (!this.canvas) return;
    const picture = await encodeThumbnail(reducedCanvas(this.canvas, PREVIEW_SIDE), PREVIEW_SIDE);
    const previewVersion = this.previewVersion + 1;
    await this.database
      .getRepository(runs)
      .update({ id: this.run.id, state: 'running' }, { preview: Buffer.from(picture), previewVersion });
    this.previewVersion = previewVersion;
  }
}
