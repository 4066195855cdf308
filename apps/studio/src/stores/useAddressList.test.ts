import { describe, expect, it } from 'vitest';
import { effectScope, nextTick, ref } from 'vue';
import { useAddressList } from './useAddressList.ts';

describe('a choice that the address holds', () => {
  it('loses no click, however late and in whatever order the address follows', async () => {
    const address = ref<readonly string[]>([]);
    const waiting: (() => void)[] = [];
    const scope = effectScope();
    const { chosen, choose } = scope.run(() =>
      useAddressList(
        () => address.value,
        (ids) =>
          new Promise<void>((resolve) =>
            waiting.push(() => {
              address.value = ids;
              resolve();
            }),
          ),
      ),
    )!;
    for (let i = 0; i < 30; i++) {
      choose([...chosen.value, String(i)]);
      // Now and then the address catches up with an earlier click.
      if (i % 3 === 2) waiting.splice(0, 2).forEach((arrive) => arrive());
      await nextTick();
    }
    for (const arrive of waiting.splice(0)) arrive();
    await nextTick();
    expect(chosen.value).toHaveLength(30);
    expect(address.value).toEqual(chosen.value);
    // What a link says afterwards counts.
    address.value = ['elsewhere'];
    await nextTick();
    expect(chosen.value).toEqual(['elsewhere']);
    scope.stop();
  });
});
