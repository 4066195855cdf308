import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { everyLayer, PLAIN_BRUSH } from '@zographos/core/layers';
import { ENDPOINTS, PATHS, type Coating, type Ticket } from '@zographos/contracts';
import { parseSettings, recordOfStroke } from '@zographos/operations';
import { reliefProject } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());

const letters = await sharp({
  create: { width: 32, height: 16, channels: 4, background: { r: 255, g: 255, b: 255, alpha: 0.5 } },
})
  .png()
  .toBuffer();

/** A stack with a group that has an image in its mask, and a stroke. */
async function layeredProject(): Promise<{ projectId: string; ticket: Ticket }> {
  const { projectId, ticket: bake } = await reliefProject(server);
  const { assets } = await server.send(projectId, { 'letters.png': letters });
  const { hash } = await server.call(
    ENDPOINTS.keepStroke,
    { id: projectId },
    recordOfStroke({
      brush: { ...PLAIN_BRUSH, radius: 5 },
      paint: { roughness: 0.2 },
      points: Float32Array.of(0, 0, 0, 0, 0, 1, 1),
      seed: 1,
    }),
  );
  const decal = { on: 'surface', center: [0, 0, 0], normal: [0, 0, 1], width: 20, height: 10, depth: 5 };
  const group = {
    ...{ id: 'g', name: 'Marked', content: 'group' },
    layers: [
      {
        ...{ id: 'a', name: 'Letters', content: 'plain', values: { basecolor: '#ffffff' } },
        mask: { steps: [{ measure: 'picture', picture: 0, place: decal }] },
      },
      { id: 'b', name: 'Painted', content: 'painted', channels: ['roughness'], strokes: [hash] },
    ],
  };
  const ground = { id: 'x', name: 'Ground', content: 'plain', values: { roughness: 0.5 } };
  const ticket = await server.call(
    ENDPOINTS.createTicket,
    { id: projectId },
    {
      ...{ name: 'Painted', operation: 'layers' },
      settings: parseSettings('layers', { size: { width: 64, height: 64 }, layers: [ground, group] }),
      inputs: { receivers: [], sources: [], pictures: [assets[0]!.id] },
      set: { id: bake.imageSetId },
    },
  );
  return { projectId, ticket };
}

describe('coatings', () => {
  it('are kept with what they are made of, and laid on in another project', async () => {
    const { ticket } = await layeredProject();
    const kept = await server.call(ENDPOINTS.keepCoating, { id: ticket.id }, { layerId: 'g', name: 'Marked' });
    expect(await server.call(ENDPOINTS.listCoatings, {})).toEqual([kept]);
    const other = await server.call(ENDPOINTS.createProject, {}, { name: 'Another quay' });
    const used = await server.call(ENDPOINTS.useCoating, { id: other.id, coatingId: kept.id }, { firstPicture: 3 });
    const { assets } = await server.call(ENDPOINTS.readProject, { id: other.id });
    expect(assets.map(({ id, name }) => [id, name])).toEqual([[used.pictures[0], 'letters']]);
    const [, lettered, painted] = [...everyLayer(used.layers)];
    expect(lettered!.mask.steps[0]).toMatchObject({ measure: 'picture', picture: 3 });
    // The stroke is there, under its name in that project.
    const [stroke] = painted?.content === 'painted' ? painted.strokes : [];
    expect((await server.fetch(PATHS.blob(stroke!))).status).toBe(200);
  });

  it('go out as a file and come back in; what is no coating is refused', async () => {
    const { ticket } = await layeredProject();
    const kept = await server.call(ENDPOINTS.keepCoating, { id: ticket.id }, { layerId: 'g', name: 'Marked' });
    const file = await server.fetch(PATHS.coatingFile(kept.id));
    expect(file.headers.get('content-disposition')).toContain('Marked.coating.zip');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const send = (name: string, content: Uint8Array): Promise<Response> => {
      const form = new FormData();
      form.append('files', new File([content as BlobPart], name), name);
      return server.fetch(PATHS.coatingFiles, { method: 'POST', body: form });
    };
    const [taken] = (await (await send('Marked.coating.zip', bytes)).json()) as Coating[];
    expect(taken).toMatchObject({ name: 'Marked', layers: 1 });
    await server.call(ENDPOINTS.deleteCoating, { id: kept.id });
    const other = await server.call(ENDPOINTS.createProject, {}, { name: 'A third quay' });
    const { pictures } = await server.call(ENDPOINTS.useCoating, { id: other.id, coatingId: taken!.id }, {});
    expect(pictures).toHaveLength(1);
    const refused = await send('letters.zip', letters);
    expect(refused.status).toBe(422);
    // A whole stack is such a file too.
    expect((await server.fetch(PATHS.stackFile(ticket.id))).status).toBe(200);
    const gone = server.call(ENDPOINTS.keepCoating, { id: ticket.id }, { layerId: 'none', name: 'None' });
    await expect(gone).rejects.toMatchObject({ status: 404 });
  });
});
