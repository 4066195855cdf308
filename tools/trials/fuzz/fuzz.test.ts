import { describe, expect, it } from 'vitest';
import { randomNumbers } from '@zographos/core/math';
import { fuzz } from './fuzz.ts';
import { goodFiles } from './goodFiles.ts';
import { mutate } from './mutate.ts';
import { readFile } from './readFile.ts';

describe('faulty files', () => {
  it('are made of good ones, which are read', async () => {
    const files = await goodFiles();
    for (const [name, bytes] of files) await readFile(name, bytes, Object.fromEntries(files));
  });

  it('are the same for the same seed, and seldom the good one', () => {
    const good = Uint8Array.from({ length: 500 }, (_, i) => i % 256);
    let same = 0;
    for (let seed = 0; seed < 100; seed++) {
      const [a, b] = [0, 1].map(() => mutate(good, good, randomNumbers(seed)));
      expect(a).toEqual(b);
      if (a!.length === good.length && a!.every((value, i) => value === good[i])) same++;
    }
    expect(same).toBeLessThan(5);
  });

  it(
    'of every kind are read, or refused by one typed error, within their time and memory',
    { timeout: 120_000 },
    async () => {
      const { findings, read, refused } = await fuzz(1, 150);
      expect(findings).toEqual([]);
      expect(read).toBeGreaterThan(100);
      expect(refused).toBeGreaterThan(1000);
    },
  );
});
