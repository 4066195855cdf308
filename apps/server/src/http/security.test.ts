import http from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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

  it('listens beyond this machine only with a passphrase, and then asks for it', async () => {
    const open = { DATABASE_URL: 'postgres://x', ZOGRAPHOS_HOST: '0.0.0.0' };
    expect(() => readConfig(open)).toThrow(/ZOGRAPHOS_PASSPHRASE/);
    expect(readConfig({ ...open, ZOGRAPHOS_PASSPHRASE: 'ebb and flow' }).host).toBe('0.0.0.0');
    expect(readConfig({ DATABASE_URL: 'postgres://x' }).host).toBe('127.0.0.1');
    const locked = await TestServer.start({ ZOGRAPHOS_PASSPHRASE: 'ebb and flow' });
    const basic = (phrase: string) => ({
      headers: { Authorization: `Basic ${Buffer.from(`artist:${phrase}`).toString('base64')}` },
    });
    const bare = await locked.fetch('/api/projects');
    expect(bare.status).toBe(401);
    expect(bare.headers.get('www-authenticate')).toMatch(/Basic/);
    expect((await locked.fetch('/api/projects', basic('ebb'))).status).toBe(401);
    expect((await locked.fetch('/api/projects', basic('ebb and flow'))).status).toBe(200);
    const wrong = await Promise.all(
      Array.from({ length: 24 }, (_, i) => locked.fetch('/api/projects', basic(`guess ${i}`))),
    );
    expect(wrong.map(({ status }) => status)).toContain(429);
    await locked.stop();
  });
});
