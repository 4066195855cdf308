// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { deliveryProfile, PACKINGS, READY_PROFILES } from '@zographos/operations';
import { useNotices } from '../../stores/notices.ts';
import { fullProject, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, press, settle, type } from '../../testing/room.ts';
import DeliverRoom from './DeliverRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const props = { projectId: IDS.project };

/** Gives a file to the room's field for profiles. */
async function give(name: string, content: string): Promise<void> {
  const input = document.querySelector<HTMLInputElement>('input[type="file"]')!;
  Object.defineProperty(input, 'files', { value: [new File([content], name)], configurable: true });
  input.dispatchEvent(new Event('change'));
  await settle();
  await settle();
}

describe('the deliver room', () => {
  it('lists the files that will be, and says in words what is missing', async () => {
    const { text, room } = await openRoom(DeliverRoom, props);
    expect(text()).toMatch(/Deliver Float light as .*, \d+ files? in a ZIP with a manifest/);
    expect(room.findAll('.paths li').length).toBeGreaterThan(0);
    expect(text()).not.toMatch(/\bao\b|basecolor map/);
  });

  it('takes sets along by their boxes', async () => {
    const { room, router, text } = await openRoom(DeliverRoom, props);
    await type(room.findAll('.sets input')[1]!.element, 'on');
    expect(router.currentRoute.value.query).toEqual({ sets: `${IDS.floatSet},${IDS.stoneSet}` });
    await settle();
    expect(text()).toContain('Float light, Harbour stone');
  });

  it('delivers only the set that is ticked after the only one was taken off', async () => {
    const { room, part, calls, text } = await openRoom(DeliverRoom, props);
    const [first, second] = room.findAll('.sets input').map(({ element }) => element);
    // Without waiting: the second click comes before the address has changed.
    for (const box of [first!, second!]) box.dispatchEvent(new Event('change', { bubbles: true }));
    await settle();
    expect(text()).not.toContain('Float light, Harbour stone');
    await click(part('Deliver now'));
    expect(calls.at(-2)).toMatchObject({ name: 'createDelivery', body: { sets: [IDS.stoneSet] } });
  });

  it('delivers what it shows, by its button and by Ctrl and Enter', async () => {
    const { part, calls } = await openRoom(DeliverRoom, props);
    await click(part('Deliver now'));
    await press(document, 'Enter', { ctrlKey: true });
    const made = calls.filter(({ name }) => name === 'createDelivery');
    expect(made).toHaveLength(2);
    expect(made[0]!.body).toEqual({ profile: READY_PROFILES[0], sets: [IDS.floatSet] });
  });

  it('offers the profiles of the project and those that are ready', async () => {
    const { room } = await openRoom(DeliverRoom, props);
    const options = room
      .findAllComponents({ name: 'Select' })
      .map((select) => select.props('options') as { label: string }[] | undefined);
    const profiles = options.find((list) => list?.some(({ label }) => label === 'Quay profile'))!;
    expect(profiles.map(({ label }) => label)).toEqual([
      'Quay profile',
      ...READY_PROFILES.map(({ name }) => `${name} (ready-made)`),
    ]);
  });

  it('adds packings and takes files away, and keeps a changed profile under its name', async () => {
    const { part, calls, room } = await openRoom(DeliverRoom, props);
    const before = room.findAll('.file').length;
    await click(part(PACKINGS[0]!.label));
    expect(room.findAll('.file')).toHaveLength(before + 1);
    await click(part('Remove file'));
    expect(room.findAll('.file')).toHaveLength(before);
    await click(part(/^Save profile/));
    const kept = calls.find(({ name }) => name === 'createProfile')!;
    expect(deliveryProfile.parse(kept.body).files).toHaveLength(before);
  });

  it('loads a profile and a packing from files, and says what is wrong with others', async () => {
    const { text, room } = await openRoom(DeliverRoom, props);
    await give('own.json', JSON.stringify({ ...READY_PROFILES[1]!, name: 'From outside' }));
    expect(text()).toContain('as From outside');
    const before = room.findAll('.file').length;
    await give('packing.json', JSON.stringify(PACKINGS[1]));
    expect(room.findAll('.file')).toHaveLength(before + 1);
    await give('note.json', '{"hello": 1}');
    expect(text()).toContain('“note.json” is neither a delivery profile nor a packing.');
    await give('broken.json', '{');
    expect(text()).toContain('“broken.json” is neither a delivery profile nor a packing.');
  });

  it('says before delivering what glTF cannot hold', async () => {
    const project = fullProject();
    const normal = project.imageSets[0]!.maps.find(({ kind }) => kind === 'normal')!;
    normal.revisions[0]!.convention = { of: 'direction', space: 'object', y: 'up', axes: 'xyz' };
    const { text } = await openRoom(DeliverRoom, props, { project });
    expect(text()).toContain('is in object space, which a material of glTF cannot hold');
  });

  it('tells a refusal of the server and stays as it is', async () => {
    const refusal = new Error('There is nothing to deliver. Choose a set.');
    const { part, text } = await openRoom(DeliverRoom, props, { answers: { createDelivery: refusal } });
    await click(part('Deliver now'));
    expect(useNotices().notices).toEqual([{ kind: 'error', text: refusal.message }]);
    expect(text()).toContain('Deliver Float light');
  });

  it('lists deliveries with their ways on', async () => {
    const { part } = await openRoom(DeliverRoom, props);
    expect(part(/glTF 2\.0\.zip/).getAttribute('href')).toBe(`/api/runs/${IDS.deliverRun}/archive`);
  });
});
