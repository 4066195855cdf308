import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import type { KeptEdit } from './keptEdits.ts';
import { useNotices } from './notices.ts';

/** A change that can be taken back. Both ways go through the server and may be refused by it. */
export interface Edit {
  /** What was done, as in “Undo size of Bell buoy normal”. */
  label: string;
  apply(): Promise<unknown>;
  revert(): Promise<unknown>;
  /** What is left of it when the page is loaded again; without it, it and those before it cannot be taken back then. */
  kept?: KeptEdit;
}

/** Undo and redo for everything the artist edits in this window. */
export const useEdits = defineStore('edits', () => {
  const done = ref<Edit[]>([]);
  const undone = ref<Edit[]>([]);
  const notices = useNotices();
  /** Edits go one after another, so that each finds the version the one before has made. */
  let turn: Promise<unknown> = Promise.resolve();

  function inTurn(work: () => Promise<void>): Promise<void> {
    const next = turn.then(() => notices.guard(work)).then(() => undefined);
    turn = next;
    return next;
  }

  const perform = (edit: Edit): Promise<void> =>
    inTurn(async () => {
      await edit.apply();
      done.value.push(edit);
      undone.value = [];
    });

  /** An edit that has been made already, in a way of its own. */
  function record(edit: Edit): void {
    done.value.push(edit);
    undone.value = [];
  }

  const undo = (): Promise<void> =>
    inTurn(async () => {
      const edit = done.value.at(-1);
      if (!edit) return;
      await edit.revert();
      done.value.pop();
      undone.value.push(edit);
    });

  const redo = (): Promise<void> =>
    inTurn(async () => {
      const edit = undone.value.at(-1);
      if (!edit) return;
      await edit.apply();
      undone.value.pop();
      done.value.push(edit);
    });

  /** Goes on with edits that were made before the page was loaded again. */
  function restore(before: { done: Edit[]; undone: Edit[] }): void {
    done.value = before.done;
    undone.value = before.undone;
  }

  /** Those that outlast the page: the newest in a row. */
  const kept = (edits: readonly Edit[]): KeptEdit[] => {
    const last = edits.findLastIndex((edit) => !edit.kept);
    return edits.slice(last + 1).map((edit) => edit.kept!);
  };

  function forget(): void {
    done.value = [];
    undone.value = [];
  }

  return {
    perform,
    record,
    undo,
    redo,
    forget,
    restore,
    kept: computed(() => ({ done: kept(done.value), undone: kept(undone.value) })),
    undoLabel: computed(() => done.value.at(-1)?.label ?? null),
    redoLabel: computed(() => undone.value.at(-1)?.label ?? null),
  };
});
