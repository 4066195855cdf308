import { describe, expect, it } from 'vitest';
import { DEFAULT_LIMITS, type FormatLimits } from '@zographos/formats/meshes';
import { readOnThread } from './readOnThread.ts';

const TRIANGLE = 'o slate\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n';

const read = (text: string, limits: FormatLimits = DEFAULT_LIMITS) =>
  readOnThread({ kind: 'meshes', name: 'slate.obj', file: 'slate.obj', bytes: new TextEncoder().encode(text), limits });

describe('reading a file for the command line', () => {
  it('is given up when its time is over, and the next file is read', async () => {
    await expect(read(TRIANGLE, { ...DEFAULT_LIMITS, seconds: 0.001 })).rejects.toMatchObject({
      code: 'limit/time',
      message: expect.stringMatching(
        /“slate\.obj” was not read within 1 seconds.*ZOGRAPHOS_MAX_READ_SECONDS/,
      ) as string,
    });
    const { objects } = await read(TRIANGLE);
    expect(objects.map(({ mesh }) => [mesh.name, [...mesh.indices]])).toEqual([['slate', [0, 1, 2]]]);
  });

  it('tells what the reader says, and does one file after the other', async () => {
    const [good, bad] = await Promise.allSettled([read(TRIANGLE), read('v 0 0 0\nf 1 2 3\n')]);
    expect(good.status).toBe('fulfilled');
    expect(bad).toMatchObject({ status: 'rejected', reason: { code: 'input/bad-index' } });
    const noise = readOnThread({
      ...{ kind: 'image', name: 'noise.png', limits: DEFAULT_LIMITS },
      bytes: Uint8Array.of(1, 2, 3),
    });
    await expect(noise).rejects.toMatchObject({ code: expect.stringMatching(/^input\//) as string });
  });
});
