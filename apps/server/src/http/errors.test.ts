import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { apiError } from '@zographos/contracts';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());

const post = (headers: Record<string, string>, body: string): Promise<Response> =>
  server.fetch('/api/projects', { method: 'POST', headers, body });
const JSON_TYPE = 'application/json';

describe('a mistake of whoever asks', () => {
  it.each([
    ['JSON that is none', () => post({ 'Content-Type': JSON_TYPE }, '{"name":')],
    ['compression that is none', () => post({ 'Content-Type': JSON_TYPE, 'Content-Encoding': 'gzip' }, 'not gzip')],
    ['a compression that is not known', () => post({ 'Content-Type': JSON_TYPE, 'Content-Encoding': 'pack200' }, '{}')],
    ['a charset that is not known', () => post({ 'Content-Type': `${JSON_TYPE}; charset=cuneiform` }, '{}')],
    ['an address with half an escape', () => server.fetch('/api/projects/%E0%A4%A')],
    ['an id that is none', () => server.fetch('/api/projects/quay')],
    ['an address with nothing there', () => server.fetch('/api/nothing')],
  ])('is called so, and no fault of Zographos: %s', async (_, ask) => {
    const response = await ask();
    expect(response.status).toBeGreaterThanOrEqual(400);
    expect(response.status).toBeLessThan(500);
    const { code, message } = apiError.parse(await response.json());
    expect(code).toMatch(/^(input|missing)\//);
    expect(message).toMatch(/^[A-Z“].*\.$/);
  });
});
