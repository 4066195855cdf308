import { ZographosError } from '../errors.ts';
import type { Kernel } from './kernel.ts';
import { WORKS, type Work } from './works.ts';

/** Every platform has it; types of platforms are not known here. */
declare const performance: { now(): number };

/** Where a piece of work is described, and its numbers: mirrored from kernel/team.ts and kernel/numbers.ts. */
const JOB_AT = 1024;
const DONE = (JOB_AT + 64) / 4;
const TURN = (JOB_AT + 128) / 4;
const [WORK, TASKS, ROOMS, ROOM_BYTES] = [192, 196, 200, 204].map((at) => (JOB_AT + at) / 4) as [
  number,
  number,
  number,
  number,
];
const NUMBERS_AT = JOB_AT + 256;
const MOST_NUMBERS = 64;
/** The same again as whole numbers. */
const WHOLES_AT = NUMBERS_AT + MOST_NUMBERS * 8;
const FREE_FROM = WHOLES_AT + MOST_NUMBERS * 4;
const PAGE = 65536;
/** It takes about so long until a helper has woken. */
const WORTH_MS = 0.3;
/** Added to the tasks that are done by a helper whose task has failed. */
const FAILED = 1 << 30;

/** Memory that a picture may take within the kernel at once; what is larger is worked on part by part. */
const BUDGET_BYTES = 256 * 1024 * 1024;

/**
 * Bytes from one row of a picture to the next in the kernel: not a multiple of a page, or texels of one column would
 * drive each other out of the cache.
 * @param floats of a row
 */
export const strideOf = (floats: number): number => {
  const bytes = Math.ceil(floats / 16) * 64;
  return bytes % 1024 < 128 ? bytes + 192 : bytes;
};

export interface TeamOptions {
  startHelpers?: () => void;
  watch?: () => void;
  budgetBytes?: number;
}

/**
 * The kernel with several threads that do one piece of work at a time together. Whatever is worked on is laid into its
 * memory and taken out again, so that pictures live where they always do. No task depends on another: the bytes are the
 * same for any number of threads.
 */
export class KernelTeam {
  readonly threads: number;
  readonly budgetBytes: number;
  private readonly kernel: Kernel;
  private readonly watch: () => void;
  private startHelpers: (() => void) | null;
  private free = FREE_FROM;

  /**
   * @param kernel over memory of its own
   * @param threads helpers, and the one that asks
   * @param options.startHelpers starts threads that call `helpTeam`; called once, when there is work for them
   * @param options.watch called before each piece of work; may throw, for one that is to stop
   * @param options.budgetBytes memory that a picture may take within the kernel at once; 256 MiB
   */
  constructor(
    kernel: Kernel,
    threads: number,
    { startHelpers, watch = () => {}, budgetBytes = BUDGET_BYTES }: TeamOptions = {},
  ) {
    this.kernel = kernel;
    this.threads = threads;
    this.watch = watch;
    this.startHelpers = startHelpers ?? null;
    this.budgetBytes = budgetBytes;
  }

  /** Gives back, once `use` has ended, all memory that was taken in it. */
  within<Result>(use: () => Result): Result {
    const before = this.free;
    try {
      return use();
    } finally {
      this.free = before;
    }
  }

  /** Takes memory, with 64 bytes to spare behind it. @returns its address @throws limit/memory */
  take(bytes: number): number {
    const at = this.free;
    this.free = Math.ceil((at + bytes + 64) / 64) * 64;
    const { memory } = this.kernel;
    const lacking = this.free - memory.buffer.byteLength;
    if (lacking > 0) {
      try {
        memory.grow(Math.ceil(lacking / PAGE));
      } catch (cause) {
        throw new ZographosError(
          'limit/memory',
          'This computation needs more memory than the machine gives. Choose a smaller size, or close other programs.',
          { cause },
        );
      }
    }
    return at;
  }

  floats(address: number, length: number): Float32Array {
    return new Float32Array(this.kernel.memory.buffer, address, length);
  }

  doubles(address: number, length: number): Float64Array {
    return new Float64Array(this.kernel.memory.buffer, address, length);
  }

  /** Takes memory for values and lays them into it. @returns its address */
  lay(values: Float32Array | Float64Array | Int32Array | Uint32Array | Uint8Array): number {
    const at = this.take(values.byteLength);
    const { buffer } = this.kernel.memory;
    new Uint8Array(buffer, at, values.byteLength).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    );
    return at;
  }

  /**
   * Does a piece of work, all its tasks, on all threads.
   * @param roomBytes what each thread needs to work in
   * @param numbers addresses and settings, as the function of the kernel lists them
   * @param meanwhile what this thread does while its helpers have begun: it copies, for they cannot
   * @throws run/failed, limit/memory, and what `watch` throws
   */
  run(work: Work, tasks: number, roomBytes: number, numbers: readonly number[], meanwhile?: () => void): void {
    this.watch();
    this.within(() => {
      const stride = Math.ceil(roomBytes / 64) * 64;
      const rooms = this.take(stride * this.threads);
      const words = new Int32Array(this.kernel.memory.buffer, 0, FREE_FROM / 4);
      words[WORK] = WORKS[work];
      words[TASKS] = tasks;
      words[ROOMS] = rooms;
      words[ROOM_BYTES] = stride;
      new Float64Array(this.kernel.memory.buffer, NUMBERS_AT, MOST_NUMBERS).set(numbers);
      new Uint32Array(this.kernel.memory.buffer, WHOLES_AT, MOST_NUMBERS).set(numbers);
      const { exports } = this.kernel;
      exports.beginWork(JOB_AT);
      if (this.threads > 1) {
        if (meanwhile) this.callHelpers();
        else this.callIfWorthIt(tasks);
      }
      meanwhile?.();
      exports.finishWork(JOB_AT);
      if (Atomics.load(words, DONE) >= FAILED) {
        throw new ZographosError('run/failed', 'A thread of this run was lost. Run it again.');
      }
    });
  }

  /** Does the first task, and calls the helpers if what is left takes longer than to wake them. */
  private callIfWorthIt(tasks: number): void {
    const since = performance.now();
    this.kernel.exports.doOneTask(JOB_AT);
    if ((performance.now() - since) * (tasks - 1) > WORTH_MS) this.callHelpers();
  }

  private callHelpers(): void {
    this.startHelpers?.();
    this.startHelpers = null;
    this.kernel.exports.callHelpers(JOB_AT);
  }

  /**
   * Works part by part, so that copying goes on beside it: while one part is worked on, the next is laid into memory and
   * the one before taken out.
   * @param lay, takeOut copy, and take no memory
   * @param work calls `run` once, and hands `meanwhile` on to it
   */
  inParts(
    parts: number,
    lay: (part: number) => void,
    work: (part: number, meanwhile?: () => void) => void,
    takeOut: (part: number) => void,
  ): void {
    if (parts > 0) lay(0);
    for (let part = 0; part < parts; part++) {
      const copy = (): void => {
        // In this order: what was taken out makes room, where there are two of each.
        if (part > 0) takeOut(part - 1);
        if (part + 1 < parts) lay(part + 1);
      };
      // Nothing is copied beside a single part.
      work(part, parts > 1 ? copy : undefined);
    }
    if (parts > 0) takeOut(parts - 1);
  }

  /** Sends the helpers away. */
  dissolve(): void {
    const words = new Int32Array(this.kernel.memory.buffer, 0, FREE_FROM / 4);
    Atomics.store(words, TURN, -1);
    Atomics.notify(words, TURN);
  }
}

/** What a helper thread does until its team is dissolved. @param thread from 1 on */
export function helpTeam({ memory, exports }: Kernel, thread: number): void {
  try {
    exports.helpTeam(JOB_AT, thread);
  } catch (error) {
    const words = new Int32Array(memory.buffer, 0, FREE_FROM / 4);
    Atomics.add(words, DONE, FAILED);
    throw error;
  }
}

let current: KernelTeam | null = null;

/** What pictures are worked on with by this thread; null where there is no kernel, and plain code does it. */
export const kernelTeam = (): KernelTeam | null => current;

/** Sets what pictures are worked on with by this thread from now on. @returns what it was before */
export function useKernelTeam(team: KernelTeam | null): KernelTeam | null {
  const before = current;
  current = team;
  return before;
}
