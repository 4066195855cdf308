import { sendFiles } from '../api/call.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';

/** Brings an image into the open project, without leaving the room. */
export function useNewPicture() {
  const store = useProject();
  const notices = useNotices();

  /** @returns the id of the image; null where it could not be read, which is told */
  async function keep(file: File): Promise<string | null> {
    const project = store.project?.id;
    if (!project) return null;
    const { done } = sendFiles(project, [{ file, path: file.name }], () => {}, 'separate');
    const result = await notices.guard(() => done);
    for (const { message } of result?.failures ?? []) notices.say('error', message);
    await store.reload();
    return result?.assets.find(({ kind }) => kind === 'image')?.id ?? null;
  }

  return { keep };
}
