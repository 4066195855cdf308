// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { useNotices } from '../../stores/notices.ts';
import { IDS } from '../../testing/fullProject.ts';
import { click, openRoom, settle, type } from '../../testing/room.ts';
import ProjectsRoom from './ProjectsRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const summary = {
  id: IDS.project,
  name: 'Slip',
  version: 1,
  assets: 3,
  maps: 1,
  createdAt: '2026-05-04T10:20:30.000Z',
};
const storage = {
  totalBytes: 5.1e9,
  unusedBytes: 2e6,
  uses: [
    { projectId: IDS.project, what: 'maps' as const, bytes: 4e9 },
    { projectId: IDS.project, what: 'meshes' as const, bytes: 1e9 },
    { projectId: null, what: 'finishes' as const, bytes: 1e8 },
  ],
  disk: { freeBytes: 2.5e9, isScarce: true },
};
const answers = {
  readStorage: storage,
  readSession: { isNeeded: false, isIn: true },
  signOut: undefined,
  listProjects: [summary],
  createProject: summary,
  createDemo: summary,
  deleteProject: undefined,
};

describe('the list of projects', () => {
  it('says of each what it holds and since when', async () => {
    const { text, part } = await openRoom(ProjectsRoom, {}, { project: null, answers });
    expect(text()).toContain('3 meshes and images, 1 map, 5.0 GB, created 4 May 2026');
    expect(part('Slip').getAttribute('href')).toContain(IDS.project);
  });

  it('says what takes how much, and warns before the disk is full', async () => {
    const { text } = await openRoom(ProjectsRoom, {}, { project: null, answers });
    expect(text()).toMatch(/5\.1 GB used, 2\.5 GB free/);
    expect(text()).toMatch(
      /Maps\s*4\.0 GB\s*Meshes\s*1\.0 GB\s*Finishes\s*100 MB\s*No longer used, freed soon\s*2\.0 MB/,
    );
    expect(text()).toMatch(/Only 2\.5 GB are left/);
  });

  it('lets out whoever signed in, and nobody else', async () => {
    const open = await openRoom(ProjectsRoom, {}, { project: null, answers });
    expect(open.text()).not.toContain('Sign out');
    const needed = { ...answers, readSession: { isNeeded: true, isIn: true } };
    const { part, router, calls } = await openRoom(ProjectsRoom, {}, { project: null, answers: needed });
    await click(part('Sign out'));
    expect(calls.at(-1)!.name).toBe('signOut');
    expect(router.currentRoute.value.name).toBe('signIn');
  });

  it('makes a project of a name, and opens its intake', async () => {
    const { room, calls, router } = await openRoom(ProjectsRoom, {}, { project: null, answers });
    await type(room.find('input[name="name"]').element, 'Tide board');
    await room.find('form').trigger('submit');
    await settle();
    expect(calls.at(-1)).toEqual({ name: 'createProject', params: {}, body: { name: 'Tide board' } });
    expect(router.currentRoute.value).toMatchObject({ name: 'intake', params: { projectId: IDS.project } });
  });

  it('asks for a name where there is none, and sends nothing', async () => {
    const { room, calls, text } = await openRoom(ProjectsRoom, {}, { project: null, answers });
    await room.find('form').trigger('submit');
    await settle();
    expect(text()).toContain('Give the project a name.');
    expect(calls.map(({ name }) => name)).not.toContain('createProject');
  });

  it('opens the demo on its contact sheet', async () => {
    const { part, router } = await openRoom(ProjectsRoom, {}, { project: null, answers });
    await click(part('Open the demo project'));
    expect(router.currentRoute.value.name).toBe('contactSheet');
  });

  it('says what to do where there is none, and when the server does not answer', async () => {
    const empty = await openRoom(ProjectsRoom, {}, { project: null, answers: { ...answers, listProjects: [] } });
    expect(empty.text()).toContain('No projects yet. Create one below, or open the demo project.');
    const away = await openRoom(
      ProjectsRoom,
      {},
      { project: null, answers: { ...answers, listProjects: new Error('The database does not answer.') } },
    );
    expect(away.text()).toContain('Reading the projects');
    expect(useNotices().notices[0]).toEqual({ kind: 'error', text: 'The database does not answer.' });
  });
});
