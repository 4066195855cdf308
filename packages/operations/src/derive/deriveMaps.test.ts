import { Worker } from 'node:worker_threads';
import { describe, expect, it } from 'vitest';
import { DERIVED_KINDS, normalFromHeight, DEFAULT_NORMAL } from '@zographos/core/derive';
import type { Image } from '@zographos/core/image';
import { randomNumbers } from '@zographos/core/testing';
import { parseSettings } from '../registry.ts';
import type { FlatMap } from '../flat/flatMap.ts';
import { RUN_FLAG } from '../runContext.ts';
import type { DeriveSettings } from './settings.ts';
import { withKernelTeam } from '../kernel/withKernelTeam.ts';
import { deriveMaps } from './deriveMaps.ts';

/** Pits and lumps, in light colours. */
function ground(side: number): Image {
  const random = randomNumbers(4);
  const lumps = Array.from({ length: 40 }, () => [random() * side, random() * side, random()] as const);
  const data = new Float32Array(side * side * 3);
  for (let i = 0; i < side * side; i++) {
    let tone = 0.4;
    for (const [x, y, high] of lumps) {
      tone += (high - 0.5) * Math.exp(-((x - (i % side)) ** 2 + (y - Math.floor(i / side)) ** 2) / 80);
    }
    for (let c = 0; c < 3; c++) data[i * 3 + c] = Math.max(0, Math.min(1, tone * (1 - c * 0.1)));
  }
  return { width: side, height: side, channels: 3, data, colorSpace: 'srgb' };
}

const noFlag = (): Int32Array => new Int32Array(new SharedArrayBuffer(4));
const derived = (
  threads: number,
  settings: DeriveSettings,
  picture: Image,
  cancelFlag = noFlag(),
): Promise<FlatMap[]> =>
  withKernelTeam({ threads, cancelFlag }, async () => {
    const made: FlatMap[] = [];
    await deriveMaps(settings, [picture], { cancelFlag, onProgress: () => {} }, (map) => {
      made.push(map);
      return Promise.resolve();
    });
    return made;
  });

describe('maps derived on several threads', () => {
  const picture = ground(256);

  it('are those of one thread, to the last bit', async () => {
    const settings = parseSettings('derive', {
      maps: [...DERIVED_KINDS],
      picture: { kind: 'basecolor', colorSpace: 'srgb' },
      ao: { reach: 0.1, slices: 6 },
      adjust: { height: [{ do: 'blur', radius: 0.01 }], ao: [{ do: 'contrast', amount: 1.4 }] },
    });
    const alone = await derived(1, settings, picture);
    const together = await derived(3, settings, picture);
    expect(together.map(({ kind }) => kind).sort()).toEqual([...DERIVED_KINDS].sort());
    together.forEach(({ kind, image }, i) => {
      const { data, ...rest } = image;
      const { data: expected, ...others } = alone[i]!.image;
      expect(rest, kind).toEqual(others);
      expect(Buffer.compare(Buffer.from(data.buffer), Buffer.from(expected.buffer)), kind).toBe(0);
    });
  });

  it('are so from normals too, whose depth only the height tells', async () => {
    const relief = { ...picture, channels: 1, data: picture.data.filter((_, i) => i % 3 === 0) };
    const normal = normalFromHeight(relief, { ...DEFAULT_NORMAL, depth: 0.05 }, 'repeat');
    const settings = parseSettings('derive', {
      maps: ['edges', 'ao', 'displacement'],
      picture: { kind: 'normal', colorSpace: 'linear' },
      from: 'normal',
      depth: null,
    });
    const alone = await derived(1, settings, normal);
    const together = await derived(3, settings, normal);
    together.forEach(({ image: { data } }, i) => {
      expect(Buffer.compare(Buffer.from(data.buffer), Buffer.from(alone[i]!.image.data.buffer))).toBe(0);
    });
  });

  it('stop in the middle of a map when another thread tells them to', async () => {
    const cancelFlag = new Int32Array(new SharedArrayBuffer(4));
    const settings = parseSettings('derive', {
      maps: ['ao'],
      picture: { kind: 'basecolor', colorSpace: 'srgb' },
      ao: { slices: 64 },
    });
    const other = new Worker(
      `const { workerData } = require('node:worker_threads');
       Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 400);
       Atomics.store(workerData.flag, 0, workerData.cancel);`,
      { eval: true, workerData: { flag: cancelFlag, cancel: RUN_FLAG.cancel } },
    );
    await new Promise((resolve) => other.once('online', resolve));
    await expect(derived(2, settings, ground(1024), cancelFlag)).rejects.toMatchObject({
      code: 'run/cancelled',
    });
    await other.terminate();
  });
});
