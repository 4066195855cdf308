import { useLocalStorage } from '@vueuse/core';
import { computed, type ComputedRef } from 'vue';
import type { z } from 'zod';

/** The sentence of something that is to be done once, kept between visits; it becomes a run when it is asked for. */
export function useDraft<Settings extends object>(
  key: string,
  schema: z.ZodType<Settings>,
  usual: Settings,
): { settings: ComputedRef<Settings>; change: (part: Partial<Settings>) => void } {
  const stored = useLocalStorage<object>(`zographos.${key}`, {}, { deep: true });
  const settings = computed<Settings>(() => {
    const read = schema.safeParse({ ...usual, ...stored.value });
    return read.success ? read.data : usual;
  });
  const change = (part: Partial<Settings>): void => {
    stored.value = { ...settings.value, ...part };
  };
  return { settings, change };
}
