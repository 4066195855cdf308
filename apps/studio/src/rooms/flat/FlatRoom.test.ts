// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { fullProject, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, press, settle, type } from '../../testing/room.ts';
import FlatRoom from './FlatRoom.vue';
import KeepFinish from './KeepFinish.vue';

afterEach(() => vi.unstubAllGlobals());

const project = fullProject();
const props = { projectId: IDS.project, setId: IDS.stoneSet };
const of = (ticket: string) => ({ query: { ticket } });

describe('the room of tiling material', () => {
  it('says the step that is open as a sentence, each slot of which opens its editor', async () => {
    const { room, part } = await openRoom(FlatRoom, props);
    const slots = room.findAll('.sentence .slot').map((slot) => slot.text());
    expect(slots.length).toBeGreaterThan(3);
    for (const slot of slots) {
      await click(part(slot, '.slot'));
      expect(part(slot, '.slot').getAttribute('aria-pressed')).toBe('true');
    }
  });

  it('lists the steps of a set with how they stand', async () => {
    const { text, part, router } = await openRoom(FlatRoom, props);
    expect(text()).toMatch(/Tile ?up to date/);
    expect(text()).toMatch(/Maps ?not made yet/);
    await click(part(/Maps/, '.steps a, .steps button, a, button'));
    expect(router.currentRoute.value.query).toEqual({ ticket: IDS.maps });
  });

  it.each([IDS.tile, IDS.maps, IDS.field])('shows the editor of %s, and runs it', async (id) => {
    const { part, calls } = await openRoom(FlatRoom, props, of(id));
    await click(part('Run now'));
    await press(document.body, 'Enter', { ctrlKey: true });
    expect(calls.filter(({ name }) => name === 'runTicket').map(({ params }) => params['id'])).toEqual([id, id]);
  });

  it('goes from the tile to a shape and back by its key', async () => {
    const { room } = await openRoom(FlatRoom, props);
    expect(room.findComponent({ name: 'TileView' }).exists()).toBe(true);
    await press(document.body, 'm');
    expect(room.findComponent({ name: 'FlatModel' }).exists()).toBe(true);
    await press(document.body, 'm');
    expect(room.findComponent({ name: 'FlatModel' }).exists()).toBe(false);
  });

  it('begins a new material with photographs or a field, and sends what the contract takes', async () => {
    const made = project.tickets.find(({ id }) => id === IDS.tile);
    const { part, calls, router } = await openRoom(
      FlatRoom,
      { ...props, setId: 'new' },
      { answers: { createTicket: made, listFinishes: [] } },
    );
    await click(part(/Harbour stone.*1500 × 1100/));
    await click(part(/^Make a tile/));
    expect(calls.find(({ name }) => name === 'createTicket')!.body).toMatchObject({
      ...{ operation: 'seamless', set: { name: 'Harbour stone' } },
      settings: { pictures: [{ kind: 'basecolor', colorSpace: 'srgb' }], size: { width: 1312, height: 962 } },
      inputs: { pictures: [IDS.photo] },
    });
    expect(router.currentRoute.value).toMatchObject({ name: 'flat', params: { setId: IDS.stoneSet } });
  });

  it.each([
    [/^Combine into maps/, 'combine', { maps: [{ kind: 'basecolor' }] }],
    [/^Pack cut-outs/, 'cutouts', { pictures: [{ kind: 'basecolor' }] }],
  ] as const)('begins one of chosen images: %s', async (button, operation, settings) => {
    const made = project.tickets.find(({ id }) => id === IDS.tile);
    const { part, calls } = await openRoom(
      FlatRoom,
      { ...props, setId: 'new' },
      { answers: { createTicket: made, listFinishes: [] } },
    );
    await click(part(/Harbour stone.*1500 × 1100/));
    await click(part(button));
    const { body } = calls.find(({ name }) => name === 'createTicket')!;
    expect(body).toMatchObject({ operation, settings, inputs: { pictures: [IDS.photo] } });
  });

  it('begins one of all maps of an image set, whatever made them, cut by one plan', async () => {
    const made = project.tickets.find(({ id }) => id === IDS.tile);
    const { room, calls } = await openRoom(
      FlatRoom,
      { ...props, setId: 'new' },
      { answers: { createTicket: made, listFinishes: [] } },
    );
    const ways = room.findAll('li').filter((item) => item.text().endsWith('Make a tile'));
    expect(ways.length).toBeGreaterThan(0);
    for (const way of ways) await click(way.get('button').element);
    for (const { body } of calls.filter(({ name }) => name === 'createTicket')) {
      const { settings, inputs } = body as {
        settings: { pictures: { kind: string }[] };
        inputs: { pictures: string[] };
      };
      const maps = project.imageSets.flatMap((set) => set.maps).filter(({ id }) => inputs.pictures.includes(id));
      expect(settings.pictures.map(({ kind }) => kind)).toEqual(
        inputs.pictures.map((id) => maps.find((map) => map.id === id)!.kind),
      );
      expect(new Set(settings.pictures.map(({ kind }) => kind)).size).toBe(settings.pictures.length);
    }
  });

  it('takes a finish of the library by its name or its tags', async () => {
    const finish = (id: string, name: string, tags: string[]) => ({
      ...{ id, name, tags, tileWidth: 900, createdAt: '2026-01-01T00:00:00.000Z' },
      maps: [{ kind: 'basecolor', width: 512, height: 512, thumbnailHash: '0'.repeat(64) }],
    });
    const listFinishes = [finish(IDS.tile, 'Wet slate', ['stone']), finish(IDS.maps, 'Old rope', ['fibre'])];
    const made = project.tickets.find(({ id }) => id === IDS.tile);
    const { room, text, calls, part } = await openRoom(
      FlatRoom,
      { ...props, setId: 'new' },
      { answers: { listFinishes, useFinish: made } },
    );
    expect(text()).toContain('Wet slate');
    await type(room.find('input[type="text"], input.p-inputtext').element, 'FIBRE');
    expect(text()).not.toContain('Wet slate');
    await click(part(/^(Use|Add|Bring)/));
    expect(calls.find(({ name }) => name === 'useFinish')!.params).toEqual({ id: IDS.project, finishId: IDS.maps });
  });
});

describe('keeping a finish', () => {
  const set = project.imageSets.find(({ id }) => id === IDS.stoneSet)!;

  it('sends its name, its tags one by one, and how wide its tile is', async () => {
    const answer = {
      id: IDS.tile,
      name: 'Stone',
      tags: [],
      tileWidth: 1200,
      maps: [],
      createdAt: '2026-01-01T00:00:00.000Z',
    };
    const { part, calls, text } = await openRoom(KeepFinish, { set }, { answers: { keepFinish: answer } });
    await click(part('Save as finish'));
    await type(document.querySelector('input[name="tags"]')!, ' stone, , harbour ');
    document.querySelector('form')!.dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }));
    await settle();
    expect(calls[0]).toEqual({
      ...{ name: 'keepFinish', params: { id: IDS.stoneSet } },
      body: { name: 'Harbour stone', tags: ['stone', 'harbour'], tileWidth: 1200 },
    });
    expect(text()).toContain('Saved. It is listed under “New material”.');
  });

  it('says what is wrong with it beside the form, and sends nothing', async () => {
    const { part, calls, text } = await openRoom(KeepFinish, { set });
    await click(part('Save as finish'));
    await type(document.querySelector('input[name="name"]')!, '  ');
    document.querySelector('form')!.dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }));
    await settle();
    expect(text()).toContain('A name needs at least one character.');
    expect(calls).toEqual([]);
  });
});
