import { describe, expect, it } from 'vitest';
import { Guesses } from './guesses.ts';

describe('wrong passphrases', () => {
  it('lock their address for twice as long each time, up to a quarter of an hour, and no other address', () => {
    let now = 0;
    const guesses = new Guesses(() => now);
    const pauses: number[] = [];
    for (let i = 0; i < 18; i++) {
      guesses.requireOpen('10.0.0.1');
      guesses.wrong('10.0.0.1');
      const from = now;
      for (;;) {
        try {
          guesses.requireOpen('10.0.0.1');
          break;
        } catch {
          now += 1000;
        }
      }
      pauses.push((now - from) / 1000);
      guesses.requireOpen('10.0.0.2');
    }
    expect(pauses).toEqual([0, 0, 0, 0, 1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 900, 900, 900, 900]);
  });

  it('are forgotten with the right one, and after an hour', () => {
    let now = 0;
    const guesses = new Guesses(() => now);
    const fail = (): void => {
      for (let i = 0; i < 5; i++) guesses.wrong('10.0.0.1');
    };
    fail();
    guesses.forget('10.0.0.1');
    guesses.requireOpen('10.0.0.1');
    fail();
    now = 2 * 3_600_000;
    guesses.wrong('10.0.0.1');
    guesses.requireOpen('10.0.0.1');
  });

  it('count by the network of a version 6 address', () => {
    const guesses = new Guesses(() => 0);
    for (let i = 0; i < 5; i++) guesses.wrong(`2001:db8:0:1::${i}`);
    expect(() => guesses.requireOpen('2001:db8:0:1:ffff::9')).toThrow(/Try again/);
    guesses.requireOpen('2001:db8:0:2::1');
  });
});
