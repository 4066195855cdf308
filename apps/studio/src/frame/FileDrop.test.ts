// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { IntakeResult } from '@zographos/contracts';
import { sendFiles } from '../api/call.ts';
import { useNotices } from '../stores/notices.ts';
import { fullProject, IDS } from '../testing/fullProject.ts';
import { click, openRoom, settle } from '../testing/room.ts';
import FileDrop from './FileDrop.vue';

vi.mock(import('../api/call.ts'), async (original) => ({ ...(await original()), sendFiles: vi.fn() }));
const sending = vi.mocked(sendFiles);
afterEach(() => vi.unstubAllGlobals());

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
    return { done, cancel };
  });
});

/** Drops files on the page. */
async function drop(...files: File[]): Promise<void> {
  const event = new Event('drop', { bubbles: true, cancelable: true });
  Object.assign(event, { dataTransfer: { files } });
  document.querySelector('.drop')!.dispatchEvent(event);
  await settle();
}
const file = new File(['o a'], 'a.obj');

describe('files that are dropped', () => {
  it('are sent, with how far they are, and the first is shown in the intake', async () => {
    const { text, router, calls } = await openRoom(FileDrop, { projectId: IDS.project });
    await drop(file, new File(['b'], 'b.png'));
    expect(sending.mock.calls[0]![1].map(({ name }) => name)).toEqual(['a.obj', 'b.png']);
    expect(text()).toContain('Sending 2 files, 0 %');
    way.onProgress(0.5);
    await settle();
    expect(text()).toContain('Sending 2 files, 50 %');
    way.onProgress(1);
    await settle();
    expect(text()).toContain('Reading 2 files');
    way.resolve({ assets: fullProject().assets.slice(0, 1), failures: [] });
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
    way.resolve({ assets: [], failures });
    await settle();
    expect(useNotices().notices.map(({ text: said }) => said)).toEqual(['“torn.glb” cannot be read. Export it again.']);
    expect(router.currentRoute.value.path).toBe('/test');
  });

  it('are stopped on their way, and a failure is told', async () => {
    const { part, text } = await openRoom(FileDrop, { projectId: IDS.project });
    await drop(file);
    await click(part('Cancel'));
    expect(way.cancel).toHaveBeenCalled();
    way.reject(new Error('The upload was cancelled; nothing was kept.'));
    await settle();
    expect(useNotices().notices[0]!.text).toBe('The upload was cancelled; nothing was kept.');
    expect(text()).not.toContain('Sending');
  });

  it('are none when nothing was dropped', async () => {
    await openRoom(FileDrop, { projectId: IDS.project });
    await drop();
    expect(sending).not.toHaveBeenCalled();
  });
});
