import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS, PATHS, type Ticket } from '@zographos/contracts';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { parseSettings, parseTicketFile } from '@zographos/operations';
import { reliefProject } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.startWithWorker();
});
afterAll(() => server.stop());

const size = { width: 32, height: 32 };
const read = (id: string) => server.call(ENDPOINTS.readProject, { id });

async function run(projectId: string, { id }: Ticket): Promise<void> {
  const { state, error } = await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id })).id);
  if (state !== 'done') throw new Error(error?.message);
}

const light = (projectId: string, receiver: string, name: string, settings: object = {}) =>
  server.call(
    ENDPOINTS.createTicket,
    { id: projectId },
    {
      ...{ name, operation: 'light', set: { name }, inputs: { receivers: [receiver], sources: [] } },
      settings: parseSettings('light', {
        ...{ size, passes: ['combined', 'groups'], samples: 16, environment: { kind: 'uniform' } },
        ...settings,
      }),
    },
  );

/** A texel of the newest combined light of a set, as it is downloaded. */
async function texelOf(projectId: string, setId: string): Promise<number[]> {
  const { imageSets } = await read(projectId);
  const { revisions } = imageSets.find(({ id }) => id === setId)!.maps.find(({ kind }) => kind === 'combined')!;
  const response = await server.fetch(PATHS.download(revisions[0]!.id, 'exr'));
  const image = await readImageFile('a.exr', new Uint8Array(await response.arrayBuffer()), limitsFrom({}));
  const at = (16 * 32 + 16) * image.channels;
  return [...image.data.slice(at, at + 3)];
}

describe('light', () => {
  it('has image sets of its own, as many as there are tickets, beside the one that the mesh wears', async () => {
    const { projectId, plane, ticket } = await reliefProject(server);
    const noon = await light(projectId, plane, 'Noon');
    const evening = await light(projectId, plane, 'Evening', {
      up: 'z',
      environment: { kind: 'none' },
      lights: [{ kind: 'sun', elevation: 90, azimuth: 0, angle: 0, strength: [2, 1, 0], group: 'lantern' }],
    });
    await run(projectId, noon);
    await run(projectId, evening);
    const { imageSets, tickets } = await read(projectId);
    const ids = [ticket.imageSetId, noon.imageSetId, evening.imageSetId];
    expect(new Set(ids).size).toBe(3);
    const own = imageSets.find(({ id }) => id === evening.imageSetId)!;
    expect(own).toMatchObject({ lit: true, receiverId: plane, name: 'Evening' });
    expect(own.maps.map(({ kind }) => kind).sort()).toEqual([
      ...['combined', 'lightgroupa', 'lightgroupb', 'lightgroupc'],
    ]);
    // A bake of the mesh does not go astray into one of them.
    await run(projectId, ticket);
    const after = await read(projectId);
    expect(after.imageSets.find(({ lit }) => !lit)!.maps[0]!.revisions).toHaveLength(1);
    expect(tickets).toHaveLength(3);
    const [r, g, b] = await texelOf(projectId, evening.imageSetId);
    expect(r! / g!).toBeCloseTo(2, 3);
    expect(b).toBe(0);
    const report = after.runs.find(({ ticketId }) => ticketId === evening.id)!.report as { groups: string[] };
    expect(report.groups).toEqual(['environment', 'surfaces', 'lantern']);
  });

  it('shows meshes in the maps of their image sets, and is out of date once those are others', async () => {
    const { projectId, plane, ticket } = await reliefProject(server);
    await run(projectId, ticket);
    const painted = (color: string) =>
      parseSettings('layers', {
        size,
        layers: [{ id: 'a', name: 'Red', content: 'plain', values: { basecolor: color, roughness: 1, metallic: 0 } }],
      });
    const layers = await server.call(
      ENDPOINTS.createTicket,
      { id: projectId },
      {
        ...{ name: 'Painted', operation: 'layers', settings: painted('#ff0000'), set: { id: ticket.imageSetId } },
        inputs: { receivers: [], sources: [] },
      },
    );
    await run(projectId, layers);
    const lit = await light(projectId, plane, 'Lit', { materials: 'maps' });
    const { worn } = parseSettings('light', lit.settings);
    expect(worn.map(({ mesh, kind }) => [mesh, kind])).toContainEqual([0, 'basecolor']);
    await run(projectId, lit);
    const [red, green] = await texelOf(projectId, lit.imageSetId);
    // What is left of green is reflected by a dielectric's surface.
    expect(red! / green!).toBeGreaterThan(8);

    const changed = { version: layers.version, settings: painted('#00ff00') };
    await server.call(ENDPOINTS.changeTicket, { id: layers.id }, changed);
    await run(projectId, layers);
    const { tickets, imageSets } = await read(projectId);
    const { revisions } = imageSets.find(({ id }) => id === lit.imageSetId)!.maps[0]!;
    expect(tickets.find(({ id }) => id === lit.id)!.key).not.toBe(revisions[0]!.key);
    await run(projectId, lit);
    const [redNow, greenNow] = await texelOf(projectId, lit.imageSetId);
    expect(greenNow! / redNow!).toBeGreaterThan(8);
  });

  it('waits for maps that its meshes wear: bakes for layers, then the layers, then the light', async () => {
    const { projectId, ticket } = await reliefProject(server);
    const settings = parseSettings('layers', {
      size,
      layers: [
        { id: 'maps', name: 'Baked', content: 'maps', channels: ['normal'] },
        { id: 'a', name: 'Red', content: 'plain', values: { basecolor: '#ff0000' } },
        {
          ...{ id: 'b', name: 'Bare', content: 'plain', values: { roughness: 0.2 } },
          mask: { steps: [{ measure: 'wear', radius: 2 }] },
        },
      ],
    });
    await server.call(
      ENDPOINTS.createTicket,
      { id: projectId },
      {
        ...{ name: 'Painted', operation: 'layers', settings, set: { id: ticket.imageSetId } },
        inputs: { receivers: [], sources: [] },
      },
    );
    const lit = await light(projectId, ticket.inputs.receivers[0]!, 'Lit', { materials: 'maps' });
    await server.call(ENDPOINTS.runTicket, { id: lit.id });
    for (;;) {
      const { runs } = await read(projectId);
      const failed = runs.find(({ state }) => state === 'failed');
      if (failed) throw new Error(failed.error!.message);
      if (runs.some(({ ticketId, state }) => ticketId === lit.id && state === 'done')) break;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    const { runs } = await read(projectId);
    // Newest first.
    expect(runs.map(({ operation }) => operation)).toEqual(['light', 'layers', 'bake', 'bake']);
    const [red, green] = await texelOf(projectId, lit.imageSetId);
    expect(red! / green!).toBeGreaterThan(8);
  });

  it('says that there is none before anything is computed, and travels as a file', async () => {
    const { projectId, plane } = await reliefProject(server);
    const dark = await light(projectId, plane, 'Dark', { environment: { kind: 'none' } });
    await expect(run(projectId, dark)).rejects.toThrow('There is no light');
    const file = await (await server.fetch(PATHS.ticketFile(dark.id))).text();
    expect(parseTicketFile('dark.json', file)).toMatchObject({ operation: 'light', inputs: { sources: [] } });
    await expect(
      server.call(
        ENDPOINTS.createTicket,
        { id: projectId },
        {
          ...{ name: 'Nothing', operation: 'light', set: { name: 'Nothing' } },
          ...{ settings: dark.settings, inputs: { receivers: [], sources: [] } },
        },
      ),
    ).rejects.toThrow('needs a mesh');
  });

  it('follows the layout that its ticket names', async () => {
    const { projectId, plane } = await reliefProject(server);
    const lit = await light(projectId, plane, 'Lit');
    const settings = { ...lit.settings, uvSet: 1 };
    await server.call(ENDPOINTS.changeTicket, { id: lit.id }, { version: lit.version, settings });
    const { imageSets } = await read(projectId);
    expect(imageSets.find(({ id }) => id === lit.imageSetId)).toMatchObject({ uvSet: 1, receiverId: plane });
  });
});
