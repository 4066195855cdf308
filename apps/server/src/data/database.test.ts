import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import { describe, expect, it } from 'vitest';
import { emptyDatabase } from '../testing/testServer.ts';
import { connected, createDatabase } from './database.ts';

describe('a database at the start', () => {
  it('that is slow to answer is tried again, and one that is not there is not', async () => {
    const url = new URL(await emptyDatabase());
    const sockets: Socket[] = [];
    // The first connection is taken and never answered.
    const slow = createServer((socket) => {
      sockets.push(socket);
      if (sockets.length > 1) socket.pipe(connect(Number(url.port), url.hostname)).pipe(socket);
    });
    await new Promise<void>((ready) => slow.listen(0, '127.0.0.1', ready));
    const through = new URL(url);
    through.hostname = '127.0.0.1';
    through.port = String((slow.address() as AddressInfo).port);
    const database = await connected(createDatabase(through.href));
    expect(sockets.length).toBeGreaterThan(1);
    await database.destroy();
    for (const socket of sockets) socket.destroy();
    await new Promise((closed) => slow.close(closed));
    const begun = Date.now();
    await expect(connected(createDatabase(through.href))).rejects.toThrow(/ECONNREFUSED/);
    expect(Date.now() - begun).toBeLessThan(3000);
  });
});
