import { describe, expect, it } from 'vitest';
import { DEFAULT_LIMITS, secondsToRead } from '@zographos/formats/meshes';
import { PLANE_OBJ } from '../testing/meshes.ts';
import { readOnThread } from './intakeDesk.ts';

const request = {
  kind: 'mesh' as const,
  name: 'plane.obj',
  bytes: new TextEncoder().encode(PLANE_OBJ),
  companions: {},
  limits: DEFAULT_LIMITS,
};

describe('reading on a thread', () => {
  it('is given up once its time is over, in one sentence, and the next file is read', async () => {
    await expect(readOnThread(request, { seconds: 0.001 })).rejects.toMatchObject({
      code: 'limit/time',
      message: expect.stringMatching(/“plane.obj” was not read within 1 seconds.*ZOGRAPHOS_MAX_READ_SECONDS/) as string,
    });
    const { objects } = await readOnThread(request);
    expect(objects[0]!.inspection.triangles).toBe(2);
  });

  it('ends when whoever asked has gone, and does not begin once they have', async () => {
    const leaving = new AbortController();
    const read = () => expect(readOnThread(request, { signal: leaving.signal })).rejects;
    const reading = read().toMatchObject({ code: 'run/cancelled' });
    leaving.abort();
    await reading;
    await read().toMatchObject({ code: 'run/cancelled' });
  });

  it('has time by the size of the file', () => {
    expect(secondsToRead(0, DEFAULT_LIMITS)).toBe(DEFAULT_LIMITS.seconds);
    expect(secondsToRead(4e9, DEFAULT_LIMITS)).toBeGreaterThan(secondsToRead(4e6, DEFAULT_LIMITS));
  });
});
