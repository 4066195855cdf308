// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Asset } from '@zographos/contracts';
import { fullProject, idOf, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, settle, tell, type } from '../../testing/room.ts';
import { useNotices } from '../../stores/notices.ts';
import IntakeRoom from './IntakeRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const project = fullProject();
const assetOf = (id: string) => project.assets.find((asset) => asset.id === id)!;

describe('the intake', () => {
  it('lists meshes and images with what they are and the worst that was found', async () => {
    const { room } = await openRoom(IntakeRoom);
    const lines = room.findAll('.list li button').map((line) => line.text().replace(/\s+/g, ' '));
    expect(lines).toHaveLength(4);
    expect(lines[0]).toMatch(/Float light.*1 200 triangles.*warning/);
    expect(lines[2]).toMatch(/Rope.*error/);
    expect(lines[3]).toMatch(/Harbour stone.*1500 × 1100 px, base colour/);
  });

  it('shows the properties of a mesh, with its size in its unit', async () => {
    const { text } = await openRoom(IntakeRoom);
    expect(text()).toContain('UV 1, UV 2');
    expect(text()).toContain('20 × 10 × 40 mm');
    expect(text()).toContain('Can be a receiver or a source.');
  });

  it('of a mesh without UVs says so, with the way out', async () => {
    const { text, part, router } = await openRoom(IntakeRoom, {}, { query: { asset: IDS.bare } });
    expect(text()).toContain('Needs UVs to be a receiver.');
    await click(part('Unwrap it'));
    expect(router.currentRoute.value).toMatchObject({ name: 'uv', params: { meshIds: IDS.bare } });
  });

  it('shows an image with what it was taken for and why', async () => {
    const { text } = await openRoom(IntakeRoom, {}, { query: { asset: IDS.photo } });
    expect(text()).toContain('3 channels, 8 bit per channel, PNG');
    expect(text()).toContain('base colour, from its name');
  });

  it('renames by an edit that can be taken back, and not to nothing', async () => {
    const { room, calls } = await openRoom(
      IntakeRoom,
      {},
      { answers: { changeAsset: { ...assetOf(IDS.light), name: 'Buoy' } } },
    );
    const name = room.find('.details input').element;
    await type(name, '   ');
    expect(calls).toHaveLength(0);
    await type(name, ' Buoy ');
    expect(calls.at(-1)).toMatchObject({
      name: 'changeAsset',
      params: { id: IDS.light },
      body: { version: 1, name: 'Buoy' },
    });
  });

  it('sends for another, deletes, and tells a refusal', async () => {
    const refusal = new Error('“Float light” is used by the ticket “Float normal”. Choose another mesh there first.');
    const { part, calls, room, router } = await openRoom(IntakeRoom, {}, { answers: { deleteAsset: refusal } });
    await click(part('Delete mesh'));
    expect(calls.map(({ name }) => name)).toEqual(['deleteAsset', 'readProject']);
    expect(useNotices().notices).toEqual([{ kind: 'error', text: refusal.message }]);
    await click(room.findAll('.list li button')[1]!.element as HTMLElement);
    expect(router.currentRoute.value.query).toEqual({ asset: IDS.dense });
  });

  const orm = {
    ...assetOf(IDS.photo),
    ...{ id: idOf(15), name: 'float_ORM', imageKind: 'image', colorSpace: 'linear' },
    packing: (['ao', 'roughness', 'metallic'] as const).map((map) => ({ map, channel: 0, invert: false })),
  } as Asset;
  const withOrm = fullProject({ assets: [...project.assets, orm] });

  it('shows what the channels of a packed image hold, and lets that be corrected', async () => {
    const { room, text, calls } = await openRoom(
      IntakeRoom,
      {},
      { project: withOrm, query: { asset: orm.id }, answers: { changeAsset: orm } },
    );
    expect(text()).toContain('ambient occlusion, roughness, metallic');
    expect(text()).toContain('Green: roughness');
    const selects = room.findAllComponents({ name: 'Select' });
    const blue = selects.find(
      (select) => select.attributes('aria-label') === 'Blue' || select.props('ariaLabel') === 'Blue',
    )!;
    tell(blue, 'update:modelValue', 'cavity 0');
    await settle();
    expect(calls.at(-1)).toMatchObject({
      name: 'changeAsset',
      body: { imageKind: 'image', packing: [{ map: 'ao' }, { map: 'roughness' }, { map: 'cavity', channel: 0 }] },
    });
  });

  it('makes the image sets that images are by one action, on the mesh of their name', async () => {
    const answers = { createTicket: project.tickets[0], runTicket: project.runs[0] };
    const { part, text, calls, router } = await openRoom(IntakeRoom, {}, { project: withOrm, answers });
    await click(part('Make 1 image set …'));
    expect(text()).toContain('Ambient occlusion, Roughness, Metallic');
    await click(part('Make 1 image set'));
    expect(calls.map(({ name }) => name)).toEqual(expect.arrayContaining(['createTicket', 'runTicket']));
    expect(calls.find(({ name }) => name === 'createTicket')).toMatchObject({
      body: {
        operation: 'bake',
        settings: { aim: 'shared', maps: ['ao', 'roughness', 'metallic'] },
        inputs: { receivers: [IDS.light], sources: [IDS.light], pictures: [orm.id] },
      },
    });
    expect(router.currentRoute.value.name).toBe('contactSheet');
  });

  it('of nothing says what can be brought in', async () => {
    const { text } = await openRoom(
      IntakeRoom,
      {},
      { project: fullProject({ assets: [], imageSets: [], tickets: [] }) },
    );
    expect(text()).toContain('OBJ, glTF, GLB, PLY or STL');
    expect(text()).toContain('No files imported yet.');
  });
});
