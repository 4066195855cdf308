// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { MeshAsset } from '@zographos/contracts';
import { useNotices } from '../../stores/notices.ts';
import { fullProject, hashOf, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, settle, type } from '../../testing/room.ts';
import GuidePanel from './panels/GuidePanel.vue';
import MergePanel from './panels/MergePanel.vue';
import RevisionList from './panels/RevisionList.vue';
import TilePanel from './panels/TilePanel.vue';
import UvSetList from './panels/UvSetList.vue';
import UvRoom from './UvRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const project = fullProject();
const light = project.assets.find(({ id }) => id === IDS.light) as MeshAsset;
const bare = project.assets.find(({ id }) => id === IDS.bare) as MeshAsset;
const quiet = fullProject({ runs: [] });
const props = { projectId: IDS.project, meshIds: IDS.light };
const run = project.runs.find(({ id }) => id === IDS.layoutRun);

describe('the UV room', () => {
  it('shows the first mesh with UVs, on its first set, with the layout that is to come as a sentence', async () => {
    const { text } = await openRoom(UvRoom, { projectId: IDS.project }, { project: quiet });
    expect(text()).toMatch(/Showing UV set UV 1 ?, checked for 8 px of padding/);
    expect(text()).toMatch(/Unwrap Float light onto a new UV set/);
    expect(text()).toContain('Reading the layout');
  });

  it('shows the set that the address names, and the first where there is none of its number', async () => {
    expect((await openRoom(UvRoom, props, { project: quiet, query: { set: '1' } })).text()).toContain(
      'Showing UV set UV 2',
    );
    expect((await openRoom(UvRoom, props, { project: quiet, query: { set: '9' } })).text()).toContain(
      'Showing UV set UV 1',
    );
  });

  it('lays meshes out, and merges their materials', async () => {
    const { part, calls } = await openRoom(UvRoom, props, {
      project: quiet,
      answers: { createLayout: run, readProject: quiet },
    });
    await click(part('Lay out'));
    expect(calls[0]).toMatchObject({
      name: 'createLayout',
      body: { meshes: [IDS.light], settings: { place: 'last', uvSet: 0 } },
    });
    const two = { ...props, meshIds: `${IDS.light},${IDS.dense}` };
    const merging = await openRoom(UvRoom, two, {
      project: quiet,
      query: { job: 'merge' },
      answers: { createMerge: run, readProject: quiet },
    });
    expect(merging.text()).toContain('Merge the materials of Float light, Float dense');
    await click(merging.part('Merge'));
    expect(merging.calls[0]).toMatchObject({ name: 'createMerge', body: { meshes: [IDS.light, IDS.dense] } });
  });

  it('shows a run on its meshes, stops it with the best so far, or cancels it', async () => {
    const running = fullProject({
      runs: [{ ...run!, state: 'running', report: null, share: 0.5, note: 'coverage 61 %' }],
    });
    const { part, calls, text } = await openRoom(UvRoom, props, { project: running });
    expect(part(/^Laying out, 50/).hasAttribute('disabled')).toBe(true);
    expect(text()).toContain('coverage 61 %');
    await click(part('Stop and keep the best'));
    await click(part('Cancel'));
    expect(calls.map(({ name, params }) => [name, params['id']])).toEqual([
      ['finishRun', IDS.layoutRun],
      ['cancelRun', IDS.layoutRun],
    ]);
  });

  it('says why the last layout has failed', async () => {
    const failed = fullProject({
      runs: [
        {
          ...run!,
          state: 'failed',
          report: null,
          error: { code: 'limit/packing', message: 'They do not fit. Choose a larger size.' },
        },
      ],
    });
    const { room } = await openRoom(UvRoom, props, { project: failed });
    expect(room.find('[role="alert"]').text()).toBe('They do not fit. Choose a larger size.');
  });

  it('of a mesh without UVs says what to press, and without a mesh what to bring', async () => {
    expect((await openRoom(UvRoom, { ...props, meshIds: IDS.bare }, { project: quiet })).text()).toContain(
      'No UVs yet. Unwrap it with the button above.',
    );
    const empty = fullProject({ assets: [], imageSets: [], tickets: [], runs: [] });
    expect((await openRoom(UvRoom, { projectId: IDS.project }, { project: empty })).text()).toContain(
      'No mesh yet. Import one',
    );
  });
});

describe('the UV sets of a mesh', () => {
  it('are renamed, ordered, added and removed, each by an edit that the contract takes', async () => {
    const { room, part, calls } = await openRoom(
      UvSetList,
      { mesh: light, uvSet: 0 },
      { answers: { changeMesh: light } },
    );
    const [first] = room.findAll('input');
    await type(first!.element, 'Paint');
    await click(part(/^(Up|Move up|Earlier|↑).*|.*[Uu]p.*/, 'button'));
    const changes = calls
      .filter(({ name }) => name === 'changeMesh')
      .map(({ body }) => (body as { change: { what: string } }).change.what);
    expect(changes[0]).toBe('rename-uv-set');
    for (const what of changes)
      expect(['rename-uv-set', 'order-uv-sets', 'add-uv-set', 'remove-uv-set']).toContain(what);
  });

  it('that keep their name are not changed', async () => {
    const { room, calls } = await openRoom(UvSetList, { mesh: light, uvSet: 0 });
    await type(room.find('input').element, '  UV 1 ');
    await type(room.find('input').element, '');
    expect(calls).toEqual([]);
  });
});

describe('the tiles of a layout', () => {
  const tiles = {
    mesh: light,
    uvSet: 0,
    sizeOf: () => ({ width: 512, height: 512 }),
    islandsIn: new Map([[1001, [0, 1]]]),
  };

  it('are those with islands, and get one more that is sent with all the others', async () => {
    const set = project.imageSets[0];
    const { part, calls, text } = await openRoom(TilePanel, tiles, { answers: { setTiles: set } });
    expect(text()).toContain('1001');
    await click(part(/^Add/));
    expect(calls[0]).toMatchObject({ name: 'setTiles', params: { id: IDS.light } });
    expect((calls[0]!.body as { tiles: { number: number }[] }).tiles.map(({ number }) => number)).toEqual([1001, 1002]);
  });

  it('split the mesh by tile, material or part', async () => {
    const { room, part } = await openRoom(TilePanel, tiles);
    for (const name of ['By tile', 'By material', 'By part']) await click(part(name));
    expect(room.emitted('split')).toEqual([[{ by: 'tile', uvSet: 0 }], [{ by: 'slot' }], [{ by: 'part' }]]);
  });
});

describe('revisions of a mesh', () => {
  const revisions = [
    {
      number: 2,
      contentHash: light.contentHash,
      made: 'UV set “Paint” added',
      uvSets: ['UV 1', 'Paint'],
      createdAt: '2026-05-04T10:20:30.000Z',
    },
    { number: 1, contentHash: hashOf(7), made: 'imported', uvSets: ['UV 1'], createdAt: '2026-05-03T10:20:30.000Z' },
  ];

  it('are listed with what made them; any but the present one is gone back to', async () => {
    const { text, room, calls } = await openRoom(
      RevisionList,
      { mesh: light },
      { answers: { readRevisions: revisions, restoreRevision: light } },
    );
    expect(text()).toContain('UV set “Paint” added');
    const buttons = room.findAll('button');
    expect(buttons).toHaveLength(1);
    await click(buttons[0]!.element);
    expect(calls.find(({ name }) => name === 'restoreRevision')!.body).toEqual({
      from: light.contentHash,
      to: hashOf(7),
    });
  });

  it('that cannot be read are told', async () => {
    await openRoom(
      RevisionList,
      { mesh: light },
      { answers: { readRevisions: new Error('The database does not answer.') } },
    );
    expect(useNotices().notices[0]!.text).toBe('The database does not answer.');
  });
});

describe('panels beside a layout', () => {
  it('tell what merging saves, before and after', async () => {
    const last = project.runs.find(({ id }) => id === IDS.mergeRun)!;
    const { room, text } = await openRoom(MergePanel, {
      meshes: [light, bare],
      last,
      projectId: IDS.project,
      ticketId: null,
    });
    const rows = room.findAll('tbody tr').map((row) => row.findAll('td').map((cell) => cell.text()));
    expect(rows[0]).toEqual(['Draw calls', '3', '1']);
    expect(rows.at(-1)).toEqual(['Texture memory', '4.1 kB', '4.1 kB']);
    const before = await openRoom(MergePanel, {
      meshes: [light, bare],
      last: null,
      projectId: IDS.project,
      ticketId: null,
    });
    expect(before.text()).toContain('2 draw calls now, one for each material of each mesh.');
    expect(text()).toBeDefined();
  });

  it('offer the layout as a picture with what is asked for, and meshes in every format', async () => {
    const { room, part } = await openRoom(GuidePanel, {
      meshes: [light],
      uvSets: [0],
      size: { width: 1024, height: 512 },
      tiles: [1001, 1002],
    });
    const address = (): URLSearchParams =>
      new URLSearchParams(
        part(/^Save at/)
          .getAttribute('href')!
          .split('?')[1],
      );
    expect(Object.fromEntries(address())).toMatchObject({ width: '1024', height: '512', tile: '1001', uvSets: '0' });
    const before = address().get('legend');
    const [box] = room.findAll('input[type="checkbox"]').slice(-1);
    await type(box!.element, 'on');
    await settle();
    expect(address().get('legend')).not.toBe(before);
    await click(part('1002'));
    expect(address().get('tile')).toBe('1002');
    for (const format of ['GLB', 'OBJ', 'PLY'])
      expect(part(format).getAttribute('href')).toContain(`format=${format.toLowerCase()}`);
  });
});
