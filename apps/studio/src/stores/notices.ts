import { defineStore } from 'pinia';
import { ref } from 'vue';

export interface Notice {
  id: number;
  kind: 'error' | 'done';
  text: string;
}

const DONE_MS = 5000;

/** Short messages at the edge of the screen. Errors stay until they are closed. */
export const useNotices = defineStore('notices', () => {
  const notices = ref<Notice[]>([]);
  let next = 1;

  function say(kind: Notice['kind'], text: string): void {
    if (notices.value.some((notice) => notice.text === text)) return;
    const id = next++;
    notices.value.push({ id, kind, text });
    if (kind === 'done') setTimeout(() => close(id), DONE_MS);
  }

  function close(id: number): void {
    notices.value = notices.value.filter((notice) => notice.id !== id);
  }

  /** Shows what went wrong with a piece of work that the artist asked for. */
  async function guard<T>(work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await work();
    } catch (error) {
      say('error', error instanceof Error ? error.message : String(error));
      return undefined;
    }
  }

  return { notices, say, close, guard };
});
