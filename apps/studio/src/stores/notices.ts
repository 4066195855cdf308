import { defineStore } from 'pinia';
import { ref } from 'vue';
import { CallError } from '../api/call.ts';

export interface Notice {
  kind: 'error' | 'done';
  text: string;
}

/** Short messages at the edge of the screen, each shown once at a time; App.vue shows them as toasts. */
export const useNotices = defineStore('notices', () => {
  const notices = ref<Notice[]>([]);

  function say(kind: Notice['kind'], text: string): void {
    if (!notices.value.some((notice) => notice.text === text)) notices.value.push({ kind, text });
  }

  /** The message is gone from the screen: closed by hand or by time. */
  function closed(text: string): void {
    notices.value = notices.value.filter((notice) => notice.text !== text);
  }

  /** Shows what went wrong with a piece of work that the artist asked for. */
  async function guard<T>(work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await work();
    } catch (error) {
      // The page for signing in says it already.
      if (error instanceof CallError && error.code === 'access/passphrase') return undefined;
      say('error', error instanceof Error ? error.message : String(error));
      return undefined;
    }
  }

  return { notices, say, closed, guard };
});
