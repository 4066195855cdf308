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
const answers = { listProjects: [summary], createProject: summary, createDemo: summary, deleteProject: undefined };

describe('the list of projects', () => {
  it('says of each what it holds and since when', async () => {
    const { text, part } = await openRoom(ProjectsRoom, {}, { project: null, answers });
    expect(text()).toContain('3 meshes and images, 1 map, created 4 May 2026');
    expect(part('Slip').getAttribute('href')).toContain(IDS.project);
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
    expect(calls.map(({ name }) => name)).toEqual(['listProjects']);
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
      { project: null, answers: { listProjects: new Error('The database does not answer.') } },
    );
    expect(away.text()).toContain('Reading the projects');
    expect(useNotices().notices[0]).toEqual({ kind: 'error', text: 'The database does not answer.' });
  });
});
