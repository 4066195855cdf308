import { isIPv6 } from 'node:net';
import { ZographosError } from '@zographos/core/errors';

/** Wrong passphrases that an address may try without a pause. */
const FREE_TRIES = 5;
const LONGEST_PAUSE_MS = 15 * 60_000;
/** An address that has not tried for this long is forgotten. */
const FORGET_MS = 60 * 60_000;
/** Addresses that are kept at once; beyond that the oldest are forgotten. */
const MAX_ADDRESSES = 10_000;

interface Tries {
  wrong: number;
  last: number;
}

/** An error that says when to try again. */
export class TooManyTries extends ZographosError {
  readonly seconds: number;

  constructor(seconds: number) {
    super(
      'access/too-many',
      `Too many wrong passphrases from this address. Try again in ${seconds === 1 ? '1 second' : `${seconds} seconds`}.`,
    );
    this.seconds = seconds;
  }
}

/**
 * Counts wrong passphrases by address. After five, each further one locks the address for twice as long as the one before:
 * 1, 2, 4 … seconds, at most a quarter of an hour; while it is locked not even the right one is heard.
 * @example
 * guesses.requireOpen(address);
 * if (isRight) guesses.forget(address); else guesses.wrong(address);
 */
export class Guesses {
  private readonly tries = new Map<string, Tries>();
  private readonly now: () => number;

  /** @param now milliseconds */
  constructor(now: () => number = () => Date.now()) {
    this.now = now;
  }

  /** @throws TooManyTries while the address is locked */
  requireOpen(address: string): void {
    const known = this.tries.get(networkOf(address));
    if (!known) return;
    const left = known.last + pauseAfter(known.wrong) - this.now();
    if (left > 0) throw new TooManyTries(Math.ceil(left / 1000));
  }

  wrong(address: string): void {
    const network = networkOf(address);
    const now = this.now();
    const known = this.tries.get(network);
    const wrong = known && now - known.last < FORGET_MS ? known.wrong + 1 : 1;
    // Put at the end: a map keeps its order, so that the first is the one that has not tried for longest.
    this.tries.delete(network);
    this.tries.set(network, { wrong, last: now });
    if (this.tries.size > MAX_ADDRESSES) this.tries.delete(this.tries.keys().next().value!);
  }

  forget(address: string): void {
    this.tries.delete(networkOf(address));
  }
}

function pauseAfter(wrong: number): number {
  return wrong < FREE_TRIES ? 0 : Math.min(LONGEST_PAUSE_MS, 1000 * 2 ** (wrong - FREE_TRIES));
}

/** An address, or the network of a version 6 address: whoever has one has 2⁶⁴ of them (RFC 4291). */
function networkOf(address: string): string {
  if (!isIPv6(address) || address.startsWith('::')) return address;
  return address.split(':').slice(0, 4).join(':');
}
