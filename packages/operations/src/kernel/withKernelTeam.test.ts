import { describe, expect, it } from 'vitest';
import { blur, resample, type Image } from '@zographos/core/image';
import { kernelTeam } from '@zographos/core/kernel';
import { RUN_FLAG } from '../runContext.ts';
import { withKernelTeam } from './withKernelTeam.ts';

const ramp = (side: number): Image => ({
  width: side,
  height: side,
  channels: 3,
  data: Float32Array.from({ length: side * side * 3 }, (_, i) => ((i * 7919) % 1000) / 1000),
});
const noFlag = (): Int32Array => new Int32Array(new SharedArrayBuffer(4));
const helpersBegun = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 1500));

describe('a team of threads with the kernel', () => {
  it('makes the same bytes for any number of threads, however often it is asked', async () => {
    const picture = ramp(300);
    const filtered = (): Float32Array =>
      resample(blur(picture, 5, 'repeat'), { width: 111, height: 77 }, 'lanczos3').data;
    const alone = await withKernelTeam({ threads: 1, cancelFlag: noFlag() }, filtered);
    await withKernelTeam({ threads: 3, cancelFlag: noFlag() }, async () => {
      // They are started by the first work that is worth it.
      filtered();
      await helpersBegun();
      for (let i = 0; i < 200; i++)
        expect(Buffer.compare(Buffer.from(filtered().buffer), Buffer.from(alone.buffer))).toBe(0);
    });
  });

  it('stops between two steps when it is told to, and is gone afterwards', async () => {
    const cancelFlag = noFlag();
    const run = withKernelTeam({ threads: 2, cancelFlag }, () => {
      blur(ramp(64), 2, 'clamp');
      Atomics.store(cancelFlag, 0, RUN_FLAG.cancel);
      blur(ramp(64), 2, 'clamp');
    });
    await expect(run).rejects.toMatchObject({ code: 'run/cancelled' });
    expect(kernelTeam()).toBeNull();
  });
});
