import http from 'node:http';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { Sessions } from '../access/sessions.ts';
import { readConfig } from '../config.ts';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start({ ZOGRAPHOS_ALLOWED_HOSTS: 'quay.example:80' });
});
afterAll(() => server.stop());

/** A request whose Host header can be chosen, which fetch does not allow. */
function ask(headers: Record<string, string>, method = 'GET'): Promise<{ status: number; body: string }> {
  const { port } = new URL(server.running.address);
  return new Promise((resolve, reject) => {
    const request = http.request({ port, host: '127.0.0.1', path: '/api/projects', method, headers }, (response) => {
      let body = '';
      response.setEncoding('utf8').on('data', (part: string) => (body += part));
      response.on('end', () => resolve({ status: response.statusCode!, body }));
    });
    request.on('error', reject).end();
  });
}

describe('the door', () => {
  it('answers to its own names only', async () => {
    const { port } = new URL(server.running.address);
    for (const host of [`127.0.0.1:${port}`, `localhost:${port}`, 'quay.example:80']) {
      expect((await ask({ host })).status).toBe(200);
    }
    for (const host of ['evil.example', `evil.example:${port}`, '127.0.0.1']) {
      const { status, body } = await ask({ host });
      expect(status).toBe(403);
      expect(body).toContain('ZOGRAPHOS_ALLOWED_HOSTS');
    }
  });

  it('refuses pages of other origins', async () => {
    const host = new URL(server.running.address).host;
    expect((await ask({ host, origin: `http://${host}` })).status).toBe(200);
    for (const origin of ['http://evil.example', 'null', `http://127.0.0.1:1`]) {
      expect((await ask({ host, origin }, 'POST')).status).toBe(403);
      expect((await ask({ host, origin })).status).toBe(403);
    }
  });

  it('lets only our own scripts run, isolated from other windows', async () => {
    const { headers } = await server.fetch('/api/health');
    const policy = headers.get('content-security-policy')!;
    expect(policy).toMatch(/default-src 'none'|default-src 'self'/);
    expect(policy).not.toMatch(/'unsafe-(eval|inline)'/);
    expect(policy).toMatch(/frame-ancestors 'none'/);
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('x-powered-by')).toBeNull();
  });

  it('listens beyond this machine only with a passphrase', () => {
    const open = { DATABASE_URL: 'postgres://x', ZOGRAPHOS_HOST: '0.0.0.0' };
    expect(() => readConfig(open)).toThrow(/ZOGRAPHOS_PASSPHRASE/);
    expect(readConfig({ ...open, ZOGRAPHOS_PASSPHRASE: 'ebb and flow' }).host).toBe('0.0.0.0');
    expect(readConfig({ DATABASE_URL: 'postgres://x' }).host).toBe('127.0.0.1');
  });
});

describe('a server with a passphrase', () => {
  let locked: TestServer;
  beforeAll(async () => {
    locked = await TestServer.start({ ZOGRAPHOS_PASSPHRASE: 'ebb and flow' });
  });
  afterAll(() => locked.stop());
  afterEach(() => void vi.restoreAllMocks());

  const basic = (phrase: string) => ({
    headers: { Authorization: `Basic ${Buffer.from(`artist:${phrase}`).toString('base64')}` },
  });
  const signIn = (passphrase: string) =>
    locked.fetch('/api/session', {
      method: 'POST',
      body: JSON.stringify({ passphrase }),
      headers: { 'Content-Type': 'application/json' },
    });

  it('shows the page for signing in, and nothing else to whoever has not', async () => {
    const bare = await locked.fetch('/api/projects');
    expect(bare.status).toBe(401);
    // A browser that met this header would ask with a window of its own, and never forget the answer.
    expect(bare.headers.get('www-authenticate')).toBeNull();
    expect(await (await locked.fetch('/api/session')).json()).toEqual({ isNeeded: true, isIn: false });
    expect(await (await server.fetch('/api/session')).json()).toEqual({ isNeeded: false, isIn: true });
  });

  it('lets programs in with each request, and browsers by a session that ends', async () => {
    expect((await locked.fetch('/api/projects', basic('ebb'))).status).toBe(401);
    expect((await locked.fetch('/api/projects', basic('ebb and flow'))).status).toBe(200);
    const set = (await signIn('ebb and flow')).headers.get('set-cookie')!;
    expect(set).toMatch(/HttpOnly/);
    expect(set).toMatch(/SameSite=Strict/);
    const cookie = { headers: { Cookie: set.split(';')[0]! } };
    expect((await locked.fetch('/api/projects', cookie)).status).toBe(200);
    const [{ hash }] = await locked.database.query<[{ hash: string }]>('SELECT hash FROM session');
    expect(set).not.toContain(hash);
    expect((await locked.fetch('/api/session', { ...cookie, method: 'DELETE' })).status).toBe(204);
    expect((await locked.fetch('/api/projects', cookie)).status).toBe(401);
  });

  it.each(['usedAt', 'createdAt'])('ends a session whose %s is long ago', async (column) => {
    const token = await new Sessions(locked.database).begin();
    expect(await new Sessions(locked.database).goesOn(token)).toBe(true);
    await locked.database.query(`UPDATE session SET "${column}" = now() - interval '8 days'`);
    expect(await new Sessions(locked.database).goesOn(token)).toBe(false);
  });

  it('hears no more than a handful of guesses, however many are sent, and then not even the right one', async () => {
    // The first pause is a second, in which a slow machine does not get through.
    vi.spyOn(Date, 'now').mockReturnValue(Date.now());
    const guesses = await Promise.all(Array.from({ length: 40 }, (_, i) => signIn(`guess ${i}`)));
    expect(guesses.filter(({ status }) => status === 401)).toHaveLength(5);
    const refused = guesses.find(({ status }) => status === 429)!;
    expect(Number(refused.headers.get('retry-after'))).toBeGreaterThan(0);
    expect(await refused.json()).toMatchObject({ message: expect.stringMatching(/Try again in 1 second\./) as string });
    expect((await signIn('ebb and flow')).status).toBe(429);
    expect((await locked.fetch('/api/projects', basic('ebb and flow'))).status).toBe(429);
  });
});

describe('every answer of the API', () => {
  it('says whether it may be kept, also one that fails', async () => {
    for (const path of ['/api/health', '/api/projects', '/api/blobs/no', '/api/nowhere', '/api/openapi.json']) {
      expect((await server.fetch(path)).headers.get('cache-control'), path).toBe('no-store');
    }
  });

  it('is compressed where it is text', async () => {
    const { headers } = await server.fetch('/api/openapi.json', { headers: { 'Accept-Encoding': 'gzip' } });
    expect(headers.get('content-encoding')).toBe('gzip');
  });
});
