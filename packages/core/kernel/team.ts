// One piece of work at a time, cut into tasks that the threads of a team take as they become free. Mirrored by
// src/kernel/kernelTeam.ts.
import { NUMBERS } from './numbers';
import { perform } from './works';

/** Tasks that nobody has taken yet, counted down; below 1 there are none. */
const LEFT: usize = 0;
/** Tasks that are done. */
const DONE: usize = 64;
/** Counts pieces of work; helpers wait for it to rise, and leave when it is below 0. */
const TURN: usize = 128;
const WORK: usize = 192;
const TASKS: usize = 196;
/** What each thread works in. */
const ROOMS: usize = 200;
const ROOM_BYTES: usize = 204;

/** Lays a piece of work out. @param job where it is described; the numbers it needs follow */
export function begin(job: usize): void {
  atomic.store<i32>(job + DONE, 0);
  // Last of all: a helper that is late from the work before finds none of its tasks, or one of this work, whole.
  atomic.store<i32>(job + LEFT, load<i32>(job + TASKS));
}

/** Lets all helpers begin with it. */
export function call(job: usize): void {
  atomic.add<i32>(job + TURN, 1);
  atomic.notify(job + TURN, -1);
}

/** Does one of its tasks. */
export function doOne(job: usize): void {
  takeOne(job, 0);
}

/** Does what is left of a piece of work, and returns once every task is done. */
export function finish(job: usize): void {
  take(job, 0);
  const tasks = load<i32>(job + TASKS);
  // Waited for without sleeping: tasks are short, and V8 11.3 (Node 20) was seen to hang for ever in a wait of its main
  // thread that a helper ends.
  while (atomic.load<i32>(job + DONE) < tasks) {}
}

/** Helps with whatever work there is until the team is dissolved. @param thread from 1 on */
export function help(job: usize, thread: u32): void {
  let seen: i32 = 0;
  for (;;) {
    const turn = atomic.load<i32>(job + TURN);
    if (turn < 0) return;
    if (turn === seen) {
      atomic.wait<i32>(job + TURN, turn, -1);
      continue;
    }
    seen = turn;
    take(job, thread);
  }
}

function take(job: usize, thread: u32): void {
  while (takeOne(job, thread)) {}
}

/** Whether there was a task to do. */
function takeOne(job: usize, thread: u32): bool {
  const left = atomic.sub<i32>(job + LEFT, 1);
  if (left < 1) return false;
  const room = <usize>load<u32>(job + ROOMS) + <usize>thread * load<u32>(job + ROOM_BYTES);
  const tasks = load<i32>(job + TASKS);
  perform(load<u32>(job + WORK), job + NUMBERS, tasks - left, room);
  atomic.add<i32>(job + DONE, 1);
  return true;
}
