// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { project as projectSchema, type MapRevision } from '@zographos/contracts';
import { fullProject, IDS } from '../../testing/fullProject.ts';
import { LIT, litProject } from '../../testing/litProject.ts';
import { click, openRoom, press, tell } from '../../testing/room.ts';
import ContactSheet from '../contactSheet/ContactSheet.vue';
import LightRoom from './LightRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const props = { projectId: IDS.project, ticketId: LIT.ticket };
/** The ticket as it is once a change has come through. */
const changed = (body: unknown): object => {
  const { settings } = body as { settings: object };
  const ticket = litProject().tickets.at(-1)!;
  return { ...ticket, settings };
};
const stubs = { LightModel: true, PassGrid: true };
const open = (project = litProject(), more: object = {}) =>
  openRoom(LightRoom, props, { project, stubs, answers: { changeTicket: changed }, ...more });
type Opened = Awaited<ReturnType<typeof open>>;

/** The kinds that are added up on the map, in order. */
const shown = ({ room, store }: Opened): string[] => {
  const view = room.findComponent({ name: 'MapView' });
  const revisions = [view.props('revision') as MapRevision, ...(view.props('added') as MapRevision[])];
  const maps = store.project!.imageSets.flatMap((set) => set.maps);
  return revisions.map(({ id }) => maps.find((map) => map.revisions[0]?.id === id)!.kind);
};

describe('the light room', () => {
  it('says what lights what, and shows all light in an exposure that suits it', async () => {
    expect(projectSchema.safeParse(litProject()).error).toBeUndefined();
    const opened = await open();
    expect(opened.text()).toMatch(
      /Light Float light, beside Float dense, by an overcast sky and a sphere light, into combined light and 3 more passes at 512 px with 256 samples\./,
    );
    expect(shown(opened)).toEqual(['combined']);
    // A mean of 0.5 is brought to a quarter of white.
    expect(opened.room.findComponent({ name: 'MapView' }).props('screen')).toEqual({ view: 'filmic', exposure: -1 });
    expect(opened.text()).toContain('up to date');
    expect(opened.text()).toContain('8.0');
  });

  it('switches a light group off at once, on the map and on the model, without a run', async () => {
    const opened = await open();
    await click(opened.part('lantern', 'label'));
    expect(shown(opened)).toEqual(['lightgroupa', 'lightgroupb']);
    const [onModel] = opened.room.findComponent({ name: 'LightModel' }).props('tiles') as { revisions: unknown[] }[];
    expect(onModel!.revisions).toHaveLength(2);
    for (const group of ['environment', 'surfaces']) await click(opened.part(group, 'label'));
    expect(opened.text()).toContain('All parts of the light are switched off.');
    await click(opened.part('lantern', 'label'));
    expect(shown(opened)).toEqual(['lightgroupc']);
    expect(opened.calls.filter(({ name }) => name === 'runTicket')).toEqual([]);
  });

  it('shows one pass, or all side by side in one exposure; what is no light as it is', async () => {
    const opened = await open();
    await click(opened.part('Shadow'));
    expect(shown(opened)).toEqual(['shadow']);
    expect(opened.room.findComponent({ name: 'MapView' }).props('screen')).toBeNull();
    await click(opened.part('Side by side'));
    const grid = opened.room.findComponent({ name: 'PassGrid' });
    const passes = grid.props('passes') as { label: string }[];
    expect(passes.map(({ label }) => label)).toEqual([
      ...['Combined light', 'Direct light', 'Shadow'],
      ...['Group environment', 'Group surfaces', 'Group lantern'],
    ]);
    tell(grid, 'choose', 'direct');
    await press(document, 'x');
    expect(shown(opened)).toEqual(['direct']);
  });

  it('places a light that is dragged, adds one that lights the model, and removes one', async () => {
    const opened = await open();
    const { calls, room, part } = opened;
    const changes = () =>
      calls
        .filter(({ name }) => name === 'changeTicket')
        .map(({ body }) => (body as { settings: { lights: object[] } }).settings);
    const model = room.findComponent({ name: 'LightModel' });
    tell(model, 'place', { lights: [{ ...litLight(), position: [5, 6, 7] }] });
    await press(document, 'x');
    expect(changes()[0]!.lights).toMatchObject([{ kind: 'sphere', position: [5, 6, 7] }]);
    tell(room.findAllComponents({ name: 'Select' })[0]!, 'update:modelValue', 'sun');
    await press(document, 'x');
    expect(changes()[1]!.lights).toMatchObject([{ kind: 'sphere' }, { kind: 'sun', elevation: 45 }]);
    await click(part(/^Remove Sun/));
    expect(changes()[2]!.lights).toHaveLength(1);
  });

  it('lights at the press of its button and by Ctrl and Enter, shows what grows, and cancels', async () => {
    const { part, calls } = await open();
    await click(part('Light now'));
    await press(document, 'Enter', { ctrlKey: true });
    expect(calls.filter(({ name }) => name === 'runTicket')).toHaveLength(2);
    const [done, ...others] = litProject().runs;
    const running = { ...done!, state: 'running' as const, report: null, share: 0.25, previewVersion: 2 };
    const growing = await open(litProject({}, { runs: [running, ...others] }));
    expect(growing.room.find('img[alt="The light as it grows finer"]').attributes('src')).toContain('v=2');
    expect(growing.room.findComponent({ name: 'LightModel' }).props('growing')).toContain('v=2');
    await click(growing.part('Cancel'));
    expect(growing.calls[0]).toMatchObject({ name: 'cancelRun', params: { id: LIT.run } });
  });

  it('takes the remedy of a finding as an edit', async () => {
    const { part, calls } = await open();
    await click(part('Denoise'));
    expect(calls[0]).toMatchObject({ name: 'changeTicket', body: { settings: { denoise: 0.5 } } });
  });

  it('without a ticket offers those that are there and a new one, which has a set of its own', async () => {
    const project = litProject();
    const { part, calls, router, text } = await openRoom(
      LightRoom,
      { projectId: IDS.project },
      { project, stubs, answers: { createTicket: project.tickets.at(-1) } },
    );
    expect(text()).toContain('Light Float light, beside Float dense');
    await click(part('New ticket'));
    expect(calls.find(({ name }) => name === 'createTicket')!.body).toMatchObject({
      ...{ operation: 'light', set: { name: 'Float light, lit' } },
      ...{ inputs: { receivers: [IDS.light], sources: [] }, settings: { materials: 'maps' } },
    });
    expect(router.currentRoute.value).toMatchObject({ name: 'light', params: { ticketId: LIT.ticket } });
    const bare = fullProject({ assets: [], imageSets: [], tickets: [], runs: [] });
    const empty = await openRoom(LightRoom, { projectId: IDS.project }, { project: bare, stubs });
    expect(empty.text()).toContain('Import one first');
  });
});

describe('sets in light on the contact sheet', () => {
  it('stand below the others with columns of their own, and lead to their room', async () => {
    const { room, part, router } = await openRoom(ContactSheet, {}, { project: litProject() });
    const [materials, lit] = room
      .findAll('[role="grid"]')
      .map((grid) => grid.findAll('.head').map((head) => head.text()));
    expect(materials).not.toContain('Combined light');
    expect(lit).toEqual([
      'Combined light',
      'Direct light',
      'Shadow',
      'Light group A',
      'Light group B',
      'Light group C',
    ]);
    await click(part('Float at evening'));
    expect(router.currentRoute.value).toMatchObject({ name: 'light', params: { ticketId: LIT.ticket } });
  });
});

const litLight = () => ({ kind: 'sphere', group: 'lantern', position: [0, 30, 0], radius: 2, strength: [4, 2, 1] });
