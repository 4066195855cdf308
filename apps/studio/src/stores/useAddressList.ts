import { ref, watch, type Ref } from 'vue';

/**
 * A choice of several that the address of the page holds. The address changes a moment after a click, and the next click may
 * come sooner: what was chosen last counts until the address says so too.
 * @param read what the address says
 * @param write puts a choice into the address; resolves once it is there, or was given up
 * @example const { chosen, choose } = useAddressList(() => idsOf(route.query.sets), (ids) => router.replace(…));
 */
export function useAddressList(
  read: () => readonly string[],
  write: (chosen: readonly string[]) => Promise<unknown>,
): { chosen: Ref<readonly string[]>; choose: (chosen: readonly string[]) => void } {
  const chosen = ref<readonly string[]>(read());
  let turn = 0;
  let isWriting = false;

  function choose(next: readonly string[]): void {
    chosen.value = next;
    isWriting = true;
    const mine = ++turn;
    const settle = (): void => {
      if (mine !== turn) return;
      isWriting = false;
      chosen.value = read();
    };
    write(next).then(settle, settle);
  }

  watch(read, (said) => {
    if (!isWriting) chosen.value = said;
  });
  return { chosen, choose };
}
