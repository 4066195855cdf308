import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS } from '@zographos/contracts';
import { DEFAULT_BAKE } from '@zographos/operations';
import { reliefProject } from './testing/meshes.ts';
import { TestServer } from './testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());

const NOBODY = '00000000-0000-4000-8000-000000000000';

describe('the database', () => {
  it('is just what the entities describe after its migrations', async () => {
    const { upQueries } = await server.database.driver.createSchemaBuilder().log();
    expect(upQueries.map(({ query }) => query)).toEqual([]);
  });
});

describe('projects', () => {
  it('are made, renamed and deleted, and a change made on an old version is refused', async () => {
    const made = await server.call(ENDPOINTS.createProject, {}, { name: '  North mole  ' });
    expect(made.name).toBe('North mole');
    const { id, version } = made;
    const renamed = await server.call(ENDPOINTS.changeProject, { id }, { version, name: 'South mole' });
    expect(renamed.version).toBeGreaterThan(version);
    await expect(server.call(ENDPOINTS.changeProject, { id }, { version, name: 'West mole' })).rejects.toMatchObject({
      status: 409,
      code: 'conflict/changed-elsewhere',
      message: expect.stringMatching(/another window/) as string,
    });
    expect((await server.call(ENDPOINTS.readProject, { id })).name).toBe('South mole');
    await server.call(ENDPOINTS.deleteProject, { id });
    await expect(server.call(ENDPOINTS.readProject, { id })).rejects.toMatchObject({ status: 404 });
  });

  it('answer what is wrong with a request', async () => {
    await expect(server.call(ENDPOINTS.createProject, {}, { name: ' ' })).rejects.toMatchObject({
      code: 'input/bad-request',
      message: expect.stringMatching(/name.*one character/) as string,
    });
    for (const path of ['/api/projects/not-an-id', `/api/projects/${NOBODY}`, '/api/wharf', '/api/projects/%zz']) {
      const response = await server.fetch(path);
      expect(response.status).toBeGreaterThanOrEqual(404);
      expect(await response.json()).toMatchObject({ message: expect.stringMatching(/\.$/) as string });
    }
    const broken = await server.fetch('/api/projects', {
      method: 'POST',
      body: '{"name": ',
      headers: { 'Content-Type': 'application/json' },
    });
    expect(await broken.json()).toMatchObject({ code: 'input/bad-request' });
  });
});

describe('tickets', () => {
  it('keep what they are told, within what can be', async () => {
    const { ticket, projectId, plane } = await reliefProject(server);
    const { id, version } = ticket;
    const settings = { ...ticket.settings, padding: 'all' as const, samples: 2 };
    const changed = await server.call(ENDPOINTS.changeTicket, { id }, { version, settings });
    expect(changed.settings).toEqual(settings);
    expect(changed.key).not.toBe(ticket.key);
    await expect(
      server.call(ENDPOINTS.changeTicket, { id }, { version: changed.version, settings: { ...settings, samples: 99 } }),
    ).rejects.toMatchObject({ code: 'input/bad-settings', message: expect.stringMatching(/samples/) as string });
    await expect(server.call(ENDPOINTS.changeTicket, { id }, { version, name: 'Late' })).rejects.toMatchObject({
      code: 'conflict/changed-elsewhere',
    });
    await expect(
      server.call(
        ENDPOINTS.createTicket,
        { id: projectId },
        {
          name: 'Nobody',
          operation: 'bake',
          settings: DEFAULT_BAKE,
          inputs: { receivers: [plane], sources: [NOBODY] },
        },
      ),
    ).rejects.toMatchObject({ status: 404 });
  });

  it('without a source have no key and do not run', async () => {
    const { ticket, plane } = await reliefProject(server);
    const { id, version } = ticket;
    const inputs = { receivers: [plane], sources: [] };
    expect((await server.call(ENDPOINTS.changeTicket, { id }, { version, inputs })).key).toBeNull();
    await expect(server.call(ENDPOINTS.runTicket, { id })).rejects.toMatchObject({
      code: 'input/bad-settings',
      message: expect.stringMatching(/no source yet/) as string,
    });
  });

  it('say what a run would cost and how far rays must reach', async () => {
    const { ticket } = await reliefProject(server, { size: { width: 2048, height: 1024 }, samples: 4 });
    const { rays, memoryBytes, memoryLimitBytes } = await server.call(ENDPOINTS.estimateTicket, { id: ticket.id });
    expect(rays).toBe(2048 * 1024 * 16);
    expect(memoryBytes).toBeLessThan(memoryLimitBytes);
    const reach = await server.call(ENDPOINTS.suggestReach, { id: ticket.id });
    // The relief lies within 0.05 of the plane on either side.
    expect(reach.out).toBeGreaterThan(0.045);
    expect(reach.out).toBeLessThan(0.075);
    expect(reach.in).toBeGreaterThan(0.045);
    // All but what looks along the very rim of both.
    expect(reach.found).toBeGreaterThan(0.95);
  });

  it('are saved as files that the command line can run', async () => {
    const { ticket } = await reliefProject(server);
    const response = await server.fetch(`/api/tickets/${ticket.id}/file`);
    expect(response.headers.get('content-disposition')).toContain('Tide_board_normal.ticket.json');
    expect(await response.json()).toEqual({
      zographos: 'ticket',
      version: 2,
      name: 'Tide board normal',
      operation: 'bake',
      settings: ticket.settings,
      inputs: {
        receivers: [{ file: 'plane.obj', object: 'plane' }],
        sources: [{ file: 'relief.obj', object: 'relief' }],
      },
    });
  });

  it('that made nothing can go, and their meshes with them', async () => {
    const { ticket, relief, projectId } = await reliefProject(server);
    await expect(server.call(ENDPOINTS.deleteAsset, { id: relief })).rejects.toMatchObject({
      code: 'conflict/in-use',
      message: expect.stringMatching(/“relief” is used by the ticket “Tide board normal”/) as string,
    });
    await server.call(ENDPOINTS.deleteTicket, { id: ticket.id });
    await server.call(ENDPOINTS.deleteAsset, { id: relief });
    const { assets, tickets, imageSets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    expect([assets.length, tickets.length, imageSets.length]).toEqual([1, 0, 0]);
  });
});

describe('the description of the API', () => {
  it('is served as OpenAPI and holds every call', async () => {
    const document = (await (await server.fetch('/api/openapi.json')).json()) as {
      openapi: string;
      paths: Record<string, Record<string, unknown>>;
    };
    expect(document.openapi).toMatch(/^3\.1/);
    for (const { method, path } of Object.values(ENDPOINTS)) {
      expect(document.paths[path.replace(/:(\w+)/g, '{$1}')]).toHaveProperty(method);
    }
  });
});
