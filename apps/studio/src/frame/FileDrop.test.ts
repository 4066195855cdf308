// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { IntakeResult } from '@zographos/contracts';
import { sendFiles } from '../api/call.ts';
import { useNotices } from '../stores/notices.ts';
import { fullProject, idOf, IDS } from '../testing/fullProject.ts';
import { click, openRoom, settle } from '../testing/room.ts';
import { droppedFiles } from './droppedFiles.ts';
import FileDrop from './FileDrop.vue';

vi.mock(import('../api/call.ts'), async (original) => ({ ...(await original()), sendFiles: vi.fn() }));
const sending = vi.mocked(sendFiles);
afterEach(() => vi.unstubAllGlobals());

const UPLOAD = idOf(99);
let way: {
  resolve: (result: IntakeResult) => void;
  reject: (error: Error) => void;
  onProgress: (share: number) => void;
  cancel: ReturnType<typeof vi.fn>;
};
beforeEach(() => {
  sending.mockReset();
  sending.mockImplementation((_, __, onProgress) => {
    const cancel = vi.fn();
    const done = new Promise<IntakeResult>((resolve, reject) => (way = { resolve, reject, onProgress, cancel }));
    return { done, cancel, upload: UPLOAD };
  });
});

/** Drops files on the page. */
async function drop(...files: File[]): Promise<void> {
  const event = new Event('drop', { bubbles: true, cancelable: true });
  Object.assign(event, { dataTransfer: { files, items: [] } });
  document.querySelector('.drop')!.dispatchEvent(event);
  await settle();
}
const file = new File(['o a'], 'a.obj');

describe('files that are dropped', () => {
  it('are sent, with how far they are, and the first is shown in the intake', async () => {
    const { text, router, calls, store } = await openRoom(FileDrop, { projectId: IDS.project });
    await drop(file, new File(['b'], 'b.png'));
    expect(sending.mock.calls[0]![1].map(({ path }) => path)).toEqual(['a.obj', 'b.png']);
    expect(text()).toContain('Sending 2 files, 0 %');
    way.onProgress(0.5);
    await settle();
    expect(text()).toContain('Sending 2 files, 50 %');
    way.onProgress(1);
    await settle();
    expect(text()).toContain('Reading 2 files');
    // What is told of another upload is not ours.
    store.reading = { type: 'reading', projectId: IDS.project, upload: idOf(98), done: 7, files: 9, now: [] };
    await settle();
    expect(text()).toContain('Reading 2 files');
    store.reading = { ...store.reading, upload: UPLOAD, done: 1, files: 2, now: ['b.png'] };
    await settle();
    expect(text()).toMatch(/Read 1 of 2 files\s+b\.png/);
    way.resolve({ assets: fullProject().assets.slice(0, 1), failures: [], revisions: [] });
    await settle();
    expect(calls.map(({ name }) => name)).toContain('readProject');
    expect(router.currentRoute.value).toMatchObject({ name: 'intake', query: { asset: IDS.light } });
    expect(text()).not.toContain('Reading');
  });

  it('that cannot be taken in are named, each with its reason; the others come in', async () => {
    const { router } = await openRoom(FileDrop, { projectId: IDS.project });
    await drop(file);
    const failures = [
      { file: 'torn.glb', code: 'input/unreadable-file', message: '“torn.glb” cannot be read. Export it again.' },
    ];
    way.resolve({ assets: [], failures, revisions: [] });
    await settle();
    expect(useNotices().notices.map(({ text: said }) => said)).toEqual(['“torn.glb” cannot be read. Export it again.']);
    expect(router.currentRoute.value.path).toBe('/test');
  });

  it('are stopped on their way, and a failure is told', async () => {
    const { part, text } = await openRoom(FileDrop, { projectId: IDS.project });
    await drop(file);
    await click(part('Cancel'));
    expect(way.cancel).toHaveBeenCalled();
    way.reject(new Error('The import was cancelled; files that were read before stay.'));
    await settle();
    expect(useNotices().notices[0]!.text).toBe('The import was cancelled; files that were read before stay.');
    expect(text()).not.toContain('Sending');
  });

  it.each([
    ['Import as new revisions', 'revise'],
    ['Import beside', 'separate'],
    ['Leave out', null],
  ])('that are known with other content are asked about: “%s”', async (answer, existing) => {
    const { text, part } = await openRoom(FileDrop, { projectId: IDS.project });
    await drop(file);
    way.resolve({ assets: [], failures: [], revisions: [{ file: 'a.obj', names: ['hull', 'keel'] }] });
    await settle();
    expect(text()).toMatch(/1 file is here already, with other content.*a\.obj\s*hull, keel/);
    await click(part(answer));
    expect(sending.mock.calls.slice(1).map((sent) => sent[3])).toEqual(existing ? [existing] : []);
  });

  it('in folders come with them, but for hidden ones', async () => {
    const leaf = (path: string): FileSystemFileEntry =>
      ({
        ...{ isFile: true, isDirectory: false, fullPath: path, name: path.slice(path.lastIndexOf('/') + 1) },
        file: (done: (file: File) => void) => done(new File(['o'], path.slice(path.lastIndexOf('/') + 1))),
      }) as FileSystemFileEntry;
    const folder = (path: string, ...within: FileSystemEntry[]): FileSystemDirectoryEntry => {
      const batches = [within.slice(0, 1), within.slice(1), []];
      return {
        ...{ isFile: false, isDirectory: true, fullPath: path, name: path.slice(path.lastIndexOf('/') + 1) },
        createReader: () => ({ readEntries: (done: (entries: FileSystemEntry[]) => void) => done(batches.shift()!) }),
      } as unknown as FileSystemDirectoryEntry;
    };
    const kit = folder(
      '/kit',
      folder('/kit/bench', leaf('/kit/bench/low.obj')),
      leaf('/kit/.DS_Store'),
      leaf('/kit/a.png'),
    );
    const items = [{ webkitGetAsEntry: () => kit }, { webkitGetAsEntry: () => leaf('/low.obj') }];
    const found = await droppedFiles({ items, files: [] } as unknown as DataTransfer);
    expect(found.map(({ path }) => path)).toEqual(['kit/bench/low.obj', 'kit/a.png', 'low.obj']);
  });

  it('are none when nothing was dropped', async () => {
    await openRoom(FileDrop, { projectId: IDS.project });
    await drop();
    expect(sending).not.toHaveBeenCalled();
  });
});
