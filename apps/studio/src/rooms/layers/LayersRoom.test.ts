// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { LayersTicket, Ticket } from '@zographos/contracts';
import { parseSettings, type LayersSettings } from '@zographos/operations';
import { fullProject, idOf, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, press } from '../../testing/room.ts';
import LayersRoom from './LayersRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const layers = [
  { id: 'paint', name: 'Paint', content: 'plain', values: { basecolor: '#8c7b6a', roughness: 0.5 } },
  {
    ...{ id: 'worn', name: 'Worn', content: 'plain', values: { metallic: 1 } },
    mask: { steps: [{ measure: 'wear', radius: 2 }] },
  },
];
const stack: LayersTicket = {
  ...{ id: idOf(71), name: 'Float, layers', version: 1, operation: 'layers', imageSetId: IDS.floatSet, key: 'k1' },
  ...{ createdAt: '2026-05-04T10:20:30.000Z', inputs: { receivers: [IDS.light], sources: [], pictures: [] } },
  settings: parseSettings('layers', { size: { width: 512, height: 512 }, layers }),
};
const project = fullProject();
const withStack = { ...project, tickets: [...project.tickets, stack] };
const props = { projectId: IDS.project, setId: IDS.floatSet };

/** The room, whose server takes every change as it comes. */
async function opened() {
  let version = 1;
  const changeTicket = (body: { settings: LayersSettings }): LayersTicket => ({
    ...stack,
    version: ++version,
    settings: body.settings,
  });
  const room = await openRoom(LayersRoom, props, { project: withStack, answers: { changeTicket, listCoatings: [] } });
  const sent = (): LayersSettings['layers'] => {
    const change = room.calls.filter(({ name }) => name === 'changeTicket').at(-1)!.body;
    return (change as { settings: LayersSettings }).settings.layers;
  };
  return { ...room, sent };
}

describe('the layers room', () => {
  it('offers every image set where none has layers yet, and begins with what is baked', async () => {
    const { part, calls, text } = await openRoom(
      LayersRoom,
      { projectId: IDS.project },
      { answers: { createTicket: stack, listCoatings: [] } },
    );
    expect(text()).toContain('Lay layers on an image set');
    await click(part(/^Lay layers on /));
    const made = calls.find(({ name }) => name === 'createTicket')!.body as Ticket;
    expect(made).toMatchObject({ operation: 'layers', set: { id: IDS.floatSet } });
    expect((made.settings as LayersSettings).layers).toMatchObject([{ content: 'maps', channels: ['normal'] }]);
  });

  it('says the chosen layer as a sentence, each slot of which opens an editor', async () => {
    const { part, room } = await opened();
    await click(part(/^Worn/, '.pick'));
    const slots = room.findAll('.chosen .slot').map((slot) => slot.text());
    expect(slots).toEqual(
      ['plain metallic 1', 'edges are worn to 2 mm', 'metallic', '100 %'].map((text, i) => (i === 0 ? slots[0] : text)),
    );
    for (const slot of slots) {
      await click(part(slot, '.chosen .slot'));
      expect(room.find('.chosen .editor').exists(), slot).toBe(true);
      await click(part(slot, '.chosen .slot'));
    }
  });

  it('moves, hides, copies and removes layers, each as a change that the contract takes', async () => {
    const { part, sent } = await opened();
    await click(part(/^Paint/, '.pick'));
    await click(part('Move up'));
    expect(sent().map(({ name }) => name)).toEqual(['Worn', 'Paint']);
    await click(part('Duplicate'));
    expect(sent().map(({ name }) => name)).toContain('Paint, copy');
    await click(part('Remove'));
    expect(sent().map(({ name }) => name)).not.toContain('Paint, copy');
    await press(part(/^Worn/, '.pick'), 'ArrowDown', { altKey: true });
    expect(sent()[0]!.name).toBe('Worn');
    await click(part(/^Show Worn/, 'input'));
    expect(sent().find(({ name }) => name === 'Worn')!.visible).toBe(false);
  });

  it('adds what is likely next, into a group that is chosen', async () => {
    const { part, sent } = await opened();
    await click(part('Add a layer'));
    await click(part(/^Group/, '.offers button'));
    expect(sent().at(-1)).toMatchObject({ name: 'Group', content: 'group' });
    await click(part('Add a layer'));
    await click(part(/^Harbour brass/, '.offers button'));
    const group = sent().at(-1)!;
    expect(group).toMatchObject({ content: 'group', layers: [{ name: 'Harbour brass', content: 'group' }] });
  });

  it('edits a mask step by step', async () => {
    const { part, sent } = await opened();
    await click(part(/^Paint/, '.pick'));
    await click(part('everywhere', '.slot'));
    await click(part('Facing a direction'));
    await click(part('Material slots'));
    expect(sent()[0]!.mask.steps.map(({ measure }) => measure)).toEqual(['facing', 'slot']);
    expect(sent()[0]!.mask.steps[1]).toMatchObject({ slots: ['brass'] });
    await click(part('Connected parts'));
    expect(sent()[0]!.mask.steps[2]).toMatchObject({ measure: 'part' });
    expect(part(/^Picking: click/).getAttribute('aria-pressed')).toBe('true');
  });

  it('picks faces by clicks, or by a lasso', async () => {
    const { part, sent, room } = await opened();
    await click(part(/^Paint/, '.pick'));
    await click(part('everywhere', '.slot'));
    await click(part('Faces'));
    expect(sent()[0]!.mask.steps).toMatchObject([{ measure: 'faces' }]);
    expect(room.text()).toContain('Click goes over edges up to');
    await click(part('Lasso', '.chosen button'));
    expect(part(/^Picking: draw around faces/).getAttribute('aria-pressed')).toBe('true');
    expect(room.text()).not.toContain('Click goes over edges up to');
  });

  it('says which maps a run bakes before what is offered can be seen', async () => {
    const { part } = await opened();
    await click(part('Add a layer'));
    expect(part(/^a run bakes sun exposure first/, '.offers button').textContent).toContain('Sun fade');
  });

  it('tells of pinned images that are gone, and unpins them', async () => {
    const references = [{ image: idOf(998), x: 0, y: 0, width: 1 }];
    const imageSets = withStack.imageSets.map((set) => (set.id === IDS.floatSet ? { ...set, references } : set));
    const { part, calls, text } = await openRoom(LayersRoom, props, {
      project: { ...withStack, imageSets },
      answers: { changeImageSet: imageSets[0]!, listCoatings: [] },
    });
    await click(part('References'));
    expect(text()).toContain('1 pinned image is not in the project any more.');
    await click(part('Unpin'));
    expect(calls.find(({ name }) => name === 'changeImageSet')!.body).toMatchObject({ references: [] });
  });

  it('runs by its button and by Ctrl and Enter', async () => {
    const { part, calls } = await opened();
    await click(part('Run now'));
    await press(document.body, 'Enter', { ctrlKey: true });
    expect(calls.filter(({ name }) => name === 'runTicket').map(({ params }) => params['id'])).toEqual([
      stack.id,
      stack.id,
    ]);
  });
});
