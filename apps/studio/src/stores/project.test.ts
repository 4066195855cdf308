// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { answeringServer, openProject, smallProject } from '../testing/studio.ts';
import { useEdits } from './edits.ts';
import { useNotices } from './notices.ts';

afterEach(() => vi.unstubAllGlobals());

function opened() {
  const project = smallProject();
  const asked = answeringServer(project);
  const store = openProject(project);
  const { id } = store.bakes[0]!;
  const padding = () => store.bakeById(id)!.settings.padding;
  const setPadding = (value: number) =>
    store.changeTicket(id, 'padding', { settings: { ...store.bakeById(id)!.settings, padding: value } });
  return { store, asked, padding, setPadding, edits: useEdits() };
}

describe('changing a ticket', () => {
  it('is an edit that is undone and redone, each on the version the one before has made', async () => {
    const { asked, padding, setPadding, edits } = opened();
    const first = padding();
    await setPadding(4);
    await setPadding(8);
    expect(padding()).toBe(8);
    expect(edits.undoLabel).toBe('padding of Float normal');
    await edits.undo();
    await edits.undo();
    expect(padding()).toBe(first);
    expect(edits.undoLabel).toBeNull();
    await edits.redo();
    expect(padding()).toBe(4);
    const versions = asked
      .filter(({ method }) => method === 'PATCH')
      .map(({ body }) => (body as { version: number }).version);
    expect(versions).toEqual([1, 2, 3, 4, 5]);
  });

  it('after an undo forgets what could have been redone', async () => {
    const { setPadding, edits } = opened();
    await setPadding(4);
    await edits.undo();
    expect(edits.redoLabel).not.toBeNull();
    await setPadding(2);
    expect(edits.redoLabel).toBeNull();
  });

  it('that another window was faster with is told, reloaded, and no edit', async () => {
    const { store, padding, setPadding, edits } = opened();
    const theirs = smallProject({ padding: 32 });
    vi.stubGlobal('fetch', (_path: string, { method = 'GET' }: { method?: string } = {}) =>
      Promise.resolve(
        method === 'GET'
          ? Response.json(theirs)
          : Response.json(
              { code: 'conflict/changed', message: 'This ticket was changed in another window.' },
              { status: 409 },
            ),
      ),
    );
    await setPadding(4);
    expect(padding()).toBe(32);
    expect(edits.undoLabel).toBeNull();
    expect(
      useNotices()
        .notices.map(({ text }) => text)
        .join(),
    ).toContain('another window');
    expect(store.project!.tickets).toHaveLength(1);
  });
});
