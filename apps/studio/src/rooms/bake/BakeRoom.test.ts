// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { BAKE_REPORT, fullProject, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, press, settle } from '../../testing/room.ts';
import BakeRoom from './BakeRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const project = fullProject();
const props = { projectId: IDS.project, ticketId: IDS.bake };
const withRun = (state: 'running' | 'failed' | 'done', more: object = {}) => {
  const [first] = project.runs.filter(({ id }) => id === IDS.bakeRun);
  const run = { ...first!, id: IDS.queuedRun, state, report: null, share: 0.25, ...more };
  return fullProject({ runs: [run, first] });
};

describe('the bake room', () => {
  it('says the ticket as a sentence, with its cost, and shows the newest map of its first kind', async () => {
    const { text, room } = await openRoom(BakeRoom, props);
    expect(text()).toMatch(/Bake normal, ambient occlusion .*of Float light from Float dense at 512 px/);
    expect(text()).toMatch(/up to [\d ]+ rays, about [\d.]+ [MG]B of memory/);
    expect(room.findComponent({ name: 'MapView' }).attributes('kind')).toBe('normal');
    expect(text()).toContain('up to date');
  });

  it('shows another map of the ticket, and gives the model all maps of the set', async () => {
    const { part, room } = await openRoom(BakeRoom, props);
    await click(part('Ambient occlusion'));
    expect(room.findComponent({ name: 'MapView' }).attributes('kind')).toBe('ao');
    const maps = room.findComponent({ name: 'ModelView' }).props('maps') as {
      tile: number;
      maps: Map<string, unknown>;
    }[];
    expect(maps.map(({ tile, maps: kinds }) => [tile, [...kinds.keys()].sort()])).toEqual([
      [1001, ['ao', 'curvature', 'normal']],
    ]);
  });

  it('bakes at the press of its button, and by Ctrl and Enter', async () => {
    const { part, calls } = await openRoom(BakeRoom, props);
    await click(part('Bake now'));
    await press(document, 'Enter', { ctrlKey: true });
    expect(calls.filter(({ name }) => name === 'runTicket').map(({ params }) => params['id'])).toEqual([
      IDS.bake,
      IDS.bake,
    ]);
  });

  it('shows how far a run is, and cancels it', async () => {
    const { part, calls, room } = await openRoom(BakeRoom, props, {
      project: withRun('running', { previewVersion: 3 }),
    });
    expect(part(/^Baking, 25/).hasAttribute('disabled')).toBe(true);
    expect(room.find('img[alt="The map as it fills"]').attributes('src')).toContain('v=3');
    await press(document, 'Enter', { ctrlKey: true });
    expect(calls).toHaveLength(0);
    await click(part('Cancel'));
    expect(calls[0]).toMatchObject({ name: 'cancelRun', params: { id: IDS.queuedRun } });
  });

  it('says why a run has failed', async () => {
    const failed = withRun('failed', {
      key: 'k9',
      error: { code: 'input/no-hits', message: 'No ray hit anything. Increase the reach.' },
    });
    failed.tickets[0]!.key = 'k9';
    const { room } = await openRoom(BakeRoom, props, { project: failed });
    expect(room.find('[role="alert"]').text()).toBe('No ray hit anything. Increase the reach.');
  });

  it('takes the remedy of a finding as an edit, or goes to the room that it names', async () => {
    const { part, calls, store } = await openRoom(BakeRoom, props, { answers: { changeTicket: project.tickets[0] } });
    await click(part('Double the reach'));
    expect(calls[0]).toMatchObject({ name: 'changeTicket', body: { settings: { reach: { out: 4, in: 2 } } } });
    expect(store.project!.tickets).toHaveLength(project.tickets.length);
  });

  it('goes to a place that is named in the address, on the map and on the model', async () => {
    const goTo = vi.fn();
    const pointAt = vi.fn();
    const stub = (name: string, expose: Record<string, unknown>) => ({
      name,
      template: '<i />',
      setup: (_: unknown, context: { expose: (what: Record<string, unknown>) => void }) => context.expose(expose),
    });
    await openRoom(BakeRoom, props, {
      query: { x: '12', y: '34', tile: '1001', at: '1,2,3' },
      stubs: { MapView: stub('MapView', { goTo }), ModelView: stub('ModelView', { pointAt }) },
    });
    await settle();
    expect(goTo).toHaveBeenCalledWith(12, 34);
    expect(pointAt).toHaveBeenCalledWith([1, 2, 3]);
  });

  it('without a ticket lists them, with a first guess at a new one', async () => {
    const { text, part, calls, router } = await openRoom(
      BakeRoom,
      { projectId: IDS.project },
      {
        answers: {
          createTicket: project.tickets[0],
          suggestReach: { out: 2, in: 1, found: 1, better: 'auto' },
          changeTicket: project.tickets[0],
        },
      },
    );
    expect(text()).toContain('Float wear');
    expect(text()).toContain('It starts with Float light as receiver and Float dense as source');
    await click(part('New ticket'));
    expect(calls[0]).toMatchObject({
      name: 'createTicket',
      body: {
        operation: 'bake',
        inputs: { receivers: [IDS.light], sources: [IDS.dense] },
        settings: { reach: 'fitted', match: 'all' },
      },
    });
    // One reach for all was measured to serve better.
    expect(calls.find(({ name }) => name === 'changeTicket')).toMatchObject({ body: { settings: { reach: 'auto' } } });
    expect(router.currentRoute.value).toMatchObject({ name: 'bake', params: { ticketId: IDS.bake } });
  });

  it('without a mesh that could be a receiver sends for one', async () => {
    const bare = fullProject({
      assets: project.assets.filter(({ id }) => id === IDS.bare),
      tickets: [],
      imageSets: [],
      runs: [],
    });
    const { text } = await openRoom(BakeRoom, { projectId: IDS.project }, { project: bare });
    expect(text()).toContain('Baking needs a mesh with UVs as receiver');
  });

  it('shows what the run has measured', async () => {
    const { text } = await openRoom(BakeRoom, props);
    for (const { sentence } of BAKE_REPORT.findings) expect(text()).toContain(sentence);
    expect(text()).toContain('Similarity (SSIM)');
  });
});
