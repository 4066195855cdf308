// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { answeringServer, openProject, smallProject } from '../testing/studio.ts';
import { createPinia, setActivePinia } from 'pinia';
import { nextTick } from 'vue';
import type { Project } from '@zographos/contracts';
import { useEdits } from './edits.ts';
import { useProject } from './project.ts';
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

  it('can be taken back after the page was loaded again, unless somebody else has changed it since', async () => {
    sessionStorage.clear();
    const { store, padding, setPadding } = opened();
    const first = padding();
    const { id } = store.project!;
    await setPadding(4);
    await setPadding(8);
    await nextTick();
    const made = JSON.parse(JSON.stringify(store.project)) as Project;
    // Another page of the same window.
    const again = async (project: Project) => {
      setActivePinia(createPinia());
      answeringServer(project);
      vi.stubGlobal(
        'EventSource',
        class {
          close(): void {}
        },
      );
      const next = useProject();
      await next.open(id);
      return { next, edits: useEdits() };
    };
    const { next, edits } = await again(made);
    expect(edits.undoLabel).toBe('padding of Float normal');
    await edits.undo();
    await edits.undo();
    expect(next.bakes[0]!.settings.padding).toBe(first);
    await edits.redo();
    await nextTick();
    const changed = JSON.parse(JSON.stringify(next.project)) as Project;
    changed.tickets[0]!.version++;
    expect((await again(changed)).edits.undoLabel).toBeNull();
  });

  it('thirty times without waiting loses none, though the project is read anew meanwhile', async () => {
    const { store, asked, edits } = opened();
    const { id } = store.bakes[0]!;
    const sources = (): string[] => store.bakeById(id)!.inputs.sources;
    const meshes = Array.from(
      { length: 30 },
      (_, i) => `00000000-0000-4000-8000-0000000001${String(i).padStart(2, '0')}`,
    );
    const before = sources().length;
    const all = meshes.map((mesh, i) => {
      const done = store.changeTicket(id, 'sources', {
        inputs: { ...store.bakeById(id)!.inputs, sources: [...sources(), mesh] },
      });
      expect(sources()).toHaveLength(before + i + 1);
      if (i % 7 === 0) void store.reload();
      return done;
    });
    await Promise.all(all);
    expect(sources().slice(before)).toEqual(meshes);
    const last = asked.filter(({ method }) => method === 'PATCH').at(-1)!.body as { inputs: { sources: string[] } };
    expect(last.inputs.sources.slice(before)).toEqual(meshes);
    await edits.undo();
    expect(sources()).toHaveLength(before + 29);
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
    // The second was made upon the first, and would bring it along.
    await Promise.all([setPadding(4), setPadding(6)]);
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
