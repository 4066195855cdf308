// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import type { MeshAsset } from '@zographos/contracts';
import { DEFAULT_LAYOUT, DEFAULT_MERGE } from '@zographos/operations';
import { fullProject, hashOf, IDS } from '../testing/fullProject.ts';
import { contractServer, settle } from '../testing/room.ts';
import { CELL_WORDS, useCells } from './cells.ts';
import { useEdits } from './edits.ts';
import { useLight } from './light.ts';
import { useMeshEdits } from './meshEdits.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useDraft } from './useDraft.ts';

afterEach(() => vi.unstubAllGlobals());
beforeEach(() => {
  localStorage.clear();
  setActivePinia(createPinia());
});

/** A project whose server answers every change of a mesh with its next revision. */
function opened() {
  const project = fullProject();
  const light = project.assets.find(({ id }) => id === IDS.light) as MeshAsset;
  const contents = { now: light.contentHash, next: 900 };
  const asset = (): MeshAsset => ({ ...light, contentHash: contents.now });
  const calls = contractServer(project);
  const answered = globalThis.fetch;
  vi.stubGlobal('fetch', async (path: string, init: RequestInit & { body?: string } = {}) => {
    const answer = await answered(path, init);
    if (path.endsWith('/restore')) contents.now = (JSON.parse(init.body!) as { to: string }).to;
    else if (path.endsWith('/mesh')) contents.now = hashOf(contents.next++);
    if (/\/(restore|mesh)$/.test(path)) return Response.json(asset());
    if (path.endsWith(IDS.project)) {
      return Response.json({
        ...project,
        assets: project.assets.map((each) => (each.id === IDS.light ? asset() : each)),
      });
    }
    return answer;
  });
  const store = useProject();
  store.project = project;
  return { store, calls, light, edits: useEdits(), meshEdits: useMeshEdits() };
}

describe('changing meshes', () => {
  it('is one edit for all of them, that goes back to what each was', async () => {
    const { store, calls, light, edits, meshEdits } = opened();
    const change = { what: 'rename-uv-set', uvSet: 0, name: 'Paint' } as const;
    await meshEdits.change('rename of “UV 1”', [{ id: IDS.light, change }]);
    expect(calls.filter(({ name }) => name === 'changeMesh')).toHaveLength(1);
    expect(edits.undoLabel).toBe('rename of “UV 1”');
    expect(store.meshById(IDS.light)!.contentHash).not.toBe(light.contentHash);
    await edits.undo();
    expect(store.meshById(IDS.light)!.contentHash).toBe(light.contentHash);
  });

  it('going back to a revision is undone by going forward again', async () => {
    const { store, calls, light, edits, meshEdits } = opened();
    await meshEdits.goBack(light, hashOf(77));
    expect(store.meshById(IDS.light)!.contentHash).toBe(hashOf(77));
    await edits.undo();
    expect(store.meshById(IDS.light)!.contentHash).toBe(light.contentHash);
    expect(calls.map(({ name, body }) => [name, body])).toEqual([
      ['restoreRevision', { from: light.contentHash, to: hashOf(77) }],
      ['restoreRevision', { from: hashOf(77), to: light.contentHash }],
    ]);
  });

  it('asks the server nothing where the mesh is what it is to be', async () => {
    const { calls, light, meshEdits } = opened();
    await meshEdits.goBack(light, light.contentHash);
    expect(calls).toEqual([]);
  });

  it('a layout that has ended is an edit too', async () => {
    const { store, light, edits, meshEdits } = opened();
    store.putAsset({ ...light, contentHash: hashOf(50) });
    meshEdits.recordLayout(new Map([[IDS.light, light.contentHash]]));
    expect(edits.undoLabel).toBe('layout of Float light');
    await edits.undo();
    expect(store.meshById(IDS.light)!.contentHash).toBe(light.contentHash);
    await edits.redo();
    expect(store.meshById(IDS.light)!.contentHash).toBe(hashOf(50));
  });

  it('everything that is asked for is in the contract', async () => {
    const { calls, light, meshEdits, store } = opened();
    const other = store.meshById(IDS.dense)!;
    await meshEdits.layOut([light], DEFAULT_LAYOUT);
    await meshEdits.merge([light, other], DEFAULT_MERGE);
    await meshEdits.join('Both', [light, other]);
    await meshEdits.split(light, { by: 'islands', uvSet: 0, islands: [0, 1] });
    await meshEdits.setTiles(light, { uvSet: 0, tiles: [{ number: 1001, width: 64, height: 64 }] });
    await meshEdits.finishRun(IDS.bakeRun);
    expect(calls.map(({ name }) => name).filter((name) => name !== 'readProject')).toEqual([
      ...['createLayout', 'createMerge', 'joinMeshes', 'splitMesh', 'setTiles', 'finishRun'],
    ]);
  });
});

describe('the project', () => {
  it('knows tickets, meshes and pictures by their names, also those that are gone', () => {
    const { store } = opened();
    expect(store.pictureName(IDS.photo)).toBe('Harbour stone');
    expect(store.pictureName(IDS.colorMap)).toBe('Harbour stone base colour');
    expect(store.pictureName('gone')).toBe('deleted image');
    const [ticket] = store.bakes;
    const sentence = store.sentenceOf({ ...ticket!, inputs: { receivers: ['gone'], sources: [] } });
    expect(sentence.map(({ text }) => text).join('')).toContain('deleted mesh');
    expect(store.meshesByIds([IDS.dense, 'gone', IDS.light]).map(({ name }) => name)).toEqual([
      'Float dense',
      'Float light',
    ]);
    expect(store.latestRunOf(IDS.wear)!.id).toBe(IDS.queuedRun);
  });

  it('takes a remedy that exchanges receivers and sources', async () => {
    const { store, calls } = opened();
    const [ticket] = store.bakes;
    const remedy = { label: 'Exchange them', change: {}, exchange: true };
    await store.takeRemedy(ticket!, { remedy } as never);
    expect(calls[0]!.body).toMatchObject({ inputs: { receivers: [IDS.dense], sources: [IDS.light] } });
  });

  it('changes an asset back to just what it was', async () => {
    const { store, calls, light, edits } = opened();
    const photo = store.images[0]!;
    await store.changeAsset(photo, 'map type', { imageKind: 'height', convention: null });
    await edits.undo();
    expect(calls.filter(({ name }) => name === 'changeAsset').map(({ body }) => body)).toEqual([
      { version: 1, imageKind: 'height', convention: null },
      expect.objectContaining({ imageKind: 'basecolor', convention: null }) as unknown,
    ]);
    expect(light.name).toBe('Float light');
  });
});

describe('places of the contact sheet', () => {
  it('are as their newest map, its ticket and the last run say', () => {
    opened();
    const states = new Map(useCells().cells.value.map(({ map, state }) => [map.id, state]));
    expect(states.get(IDS.normalMap)).toBe('fresh');
    expect(states.get(IDS.curvatureMap)).toBe('queued');
    expect(states.get(IDS.heightMap)).toBe('missing');
    expect(states.get(IDS.atlasMap)).toBe('stale');
    for (const state of states.values()) expect(CELL_WORDS[state]).toBeTruthy();
  });

  it('that failed are so until something of their ticket is changed', () => {
    const { store } = opened();
    const failed = { ...store.project!.runs.find(({ id }) => id === IDS.failedRun)!, key: 'k2' };
    store.project = { ...store.project!, runs: [failed] };
    const state = () => useCells().cells.value.find(({ map }) => map.id === IDS.curvatureMap)!.state;
    expect(state()).toBe('failed');
    store.project = { ...store.project, runs: [{ ...failed, key: 'before' }] };
    expect(state()).toBe('stale');
    expect(useCells().waiting.value.map(({ map }) => map.id)).toContain(IDS.curvatureMap);
  });
});

describe('edits', () => {
  it('go one after another, whatever is pressed meanwhile', async () => {
    const edits = useEdits();
    const log: string[] = [];
    const slow = (name: string, wait: number) => ({
      label: name,
      apply: async () => {
        await new Promise((resolve) => setTimeout(resolve, wait));
        log.push(name);
      },
      revert: () => Promise.resolve(log.push(`not ${name}`)),
    });
    await Promise.all([edits.perform(slow('first', 20)), edits.perform(slow('second', 1)), edits.undo()]);
    expect(log).toEqual(['first', 'second', 'not second']);
    expect([edits.undoLabel, edits.redoLabel]).toEqual(['first', 'second']);
  });

  it('that fail are told, and are no edits', async () => {
    const edits = useEdits();
    await edits.perform({
      label: 'a',
      apply: () => Promise.reject(new Error('No room.')),
      revert: () => Promise.resolve(),
    });
    expect(edits.undoLabel).toBeNull();
    expect(useNotices().notices).toEqual([{ kind: 'error', text: 'No room.' }]);
    edits.record({ label: 'b', apply: () => Promise.resolve(), revert: () => Promise.reject(new Error('Gone.')) });
    await edits.undo();
    expect([edits.undoLabel, edits.redoLabel]).toEqual(['b', null]);
    edits.forget();
    expect(edits.undoLabel).toBeNull();
  });
});

describe('notices', () => {
  it('are shown once each, until they are closed', async () => {
    const notices = useNotices();
    notices.say('error', 'Twice');
    notices.say('error', 'Twice');
    expect(await notices.guard(() => Promise.resolve(4))).toBe(4);
    const refused = (): Promise<number> => Promise.reject(new Error('Once'));
    expect(await notices.guard(refused)).toBeUndefined();
    expect(notices.notices.map(({ text }) => text)).toEqual(['Twice', 'Once']);
    notices.closed('Twice');
    notices.say('error', 'Twice');
    expect(notices.notices.map(({ text }) => text)).toEqual(['Once', 'Twice']);
  });
});

describe('what is kept between visits', () => {
  const schema = z.strictObject({ size: z.number().max(100), name: z.string() });
  const usual = { size: 10, name: 'Atlas' };

  it('is what was changed, over what is usual, as long as the schema takes it', async () => {
    const { settings, change } = useDraft('draft', schema, usual);
    expect(settings.value).toEqual(usual);
    change({ size: 20 });
    await settle();
    expect(useDraft('draft', schema, usual).settings.value).toEqual({ size: 20, name: 'Atlas' });
    change({ size: 1000 });
    expect(settings.value).toEqual(usual);
  });

  it('of an earlier version that is no more is forgotten', () => {
    localStorage.setItem('zographos.old', JSON.stringify({ colour: 'blue' }));
    expect(useDraft('old', schema, usual).settings.value).toEqual(usual);
  });

  it('is the light of the bench too', async () => {
    const light = useLight();
    light.toggle();
    await settle();
    expect(document.documentElement.dataset['light']).toBe('dim');
    light.toggle();
    await settle();
    expect(document.documentElement.dataset['light']).toBe('bright');
  });
});
