// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useEdits } from '../stores/edits.ts';
import { fullProject, IDS } from '../testing/fullProject.ts';
import { click, openRoom, press, settle } from '../testing/room.ts';
import ProjectFrame from './ProjectFrame.vue';

/** The events of a server, sent by hand. */
class Events {
  static open: Events[] = [];
  static readonly CLOSED = 2;
  readyState = 1;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  readonly address: string;
  constructor(address: string) {
    this.address = address;
    Events.open.push(this);
  }
  close(): void {
    Events.open = Events.open.filter((each) => each !== this);
  }
}

beforeEach(() => {
  Events.open = [];
  vi.stubGlobal('EventSource', Events);
});
afterEach(() => vi.unstubAllGlobals());

const openFrame = (options = {}) =>
  openRoom(ProjectFrame, { projectId: IDS.project }, { project: null, stubs: { RouterView: true }, ...options });
const [events] = [() => Events.open[0]!];

async function tell(event: object): Promise<void> {
  events().onmessage!({ data: JSON.stringify(event) });
  await settle();
}

describe('the frame of a project', () => {
  it('reads the project, names the window by it, and leads to its rooms', async () => {
    const { part } = await openFrame({ answers: { readProject: fullProject() } });
    expect(events().address).toBe(`/api/projects/${IDS.project}/events`);
    expect(document.title).toBe('Slip – Zographos');
    for (const name of ['Contact sheet', 'Intake', 'UV', 'Bake', 'Flat', 'Proof', 'Deliver'])
      expect(part(name)).toBeTruthy();
  });

  it('says when server or database do not answer, and that nothing is lost, and reads anew afterwards', async () => {
    const { room, calls } = await openFrame({ answers: { readProject: fullProject() } });
    const alert = (): string => (room.find('.away').exists() ? room.find('.away').text() : '');
    events().onerror!();
    await settle();
    expect(alert()).toMatch(/The server does not answer\. Nothing is lost/);
    await tell({ type: 'database', up: false });
    expect(alert()).toMatch(/The database does not answer\. Nothing is lost/);
    const before = calls.length;
    await tell({ type: 'database', up: true });
    expect(alert()).toBe('');
    expect(calls.length).toBe(before + 1);
    await tell({ type: 'worker', up: false });
    expect(alert()).toMatch(/No worker is running: runs wait/);
    await tell({ type: 'worker', up: true });
    expect(alert()).toBe('');
    await tell({ type: 'disk', isScarce: true, freeBytes: 1.2e9 });
    expect(alert()).toMatch(/only 1\.2 GB left/);
    await tell({ type: 'disk', isScarce: false, freeBytes: 1e11 });
    expect(alert()).toBe('');
  });

  it('moves a run on by the events of the server, without reading all again', async () => {
    const { store, calls, text } = await openFrame({ answers: { readProject: fullProject() } });
    const before = calls.length;
    await tell({
      ...{ type: 'progress', projectId: IDS.project, runId: IDS.queuedRun, stage: 'trace', share: 0.42 },
      ...{ secondsLeft: 7, note: null, previewVersion: 2 },
    });
    expect(store.project!.runs[0]).toMatchObject({ state: 'running', share: 0.42, previewVersion: 2 });
    expect(calls).toHaveLength(before);
    expect(text()).toContain('42 %');
    // One that is done is not called back by a late event.
    await tell({
      ...{ type: 'progress', projectId: IDS.project, runId: IDS.bakeRun, stage: 'trace', share: 0.1 },
      ...{ secondsLeft: 7, note: null, previewVersion: 2 },
    });
    expect(store.project!.runs.find(({ id }) => id === IDS.bakeRun)!.state).toBe('done');
  });

  it('joins many changes at once into one more reading', async () => {
    const { calls } = await openFrame({ answers: { readProject: fullProject() } });
    const before = calls.length;
    for (let i = 0; i < 10; i++)
      events().onmessage!({ data: JSON.stringify({ type: 'changed', projectId: IDS.project }) });
    await settle();
    await settle();
    expect(calls.length - before).toBeLessThanOrEqual(2);
  });

  it('undoes and redoes by keys and buttons, but not while somebody types', async () => {
    const { part } = await openFrame({ answers: { readProject: fullProject() } });
    const edits = useEdits();
    let value = 0;
    await edits.perform({
      label: 'size of Float normal',
      apply: () => Promise.resolve((value = 1)),
      revert: () => Promise.resolve((value = 0)),
    });
    await settle();
    expect(part('Undo').getAttribute('aria-description')).toBe('Undo size of Float normal (Ctrl Z)');
    const input = document.body.appendChild(document.createElement('input'));
    await press(input, 'z', { ctrlKey: true });
    expect(value).toBe(1);
    await press(document.body, 'z', { ctrlKey: true });
    expect(value).toBe(0);
    await press(document.body, 'Z', { ctrlKey: true, shiftKey: true });
    expect(value).toBe(1);
    await click(part('Undo'));
    expect(value).toBe(0);
  });

  it('goes from room to room by keys, and shows them all', async () => {
    const { router, room } = await openFrame({ answers: { readProject: fullProject() } });
    await press(document.body, '2', { altKey: true });
    expect(router.currentRoute.value.name).toBe('intake');
    await press(document.body, '?');
    expect(room.findComponent({ name: 'KeysHelp' }).props('visible')).toBe(true);
  });

  it('closes its line to the server with the project', async () => {
    const { room } = await openFrame({ answers: { readProject: fullProject() } });
    room.unmount();
    expect(Events.open).toEqual([]);
  });
});
