import { useLocalStorage } from '@vueuse/core';
import { computed } from 'vue';
import { DEFAULT_LAYOUT, layoutSettings, type LayoutSettings } from '@zographos/operations';

/** The sentence of the layout to come, kept between visits; it becomes a run when it is asked for. */
export function useLayoutDraft(projectId: string) {
  const stored = useLocalStorage<unknown>(`zographos.layout.${projectId}`, {}, { deep: true });
  const settings = computed<LayoutSettings>(() => {
    const read = layoutSettings.safeParse({ ...DEFAULT_LAYOUT, place: 'last', ...(stored.value as object) });
    return read.success ? read.data : { ...DEFAULT_LAYOUT, place: 'last' };
  });
  const change = (part: Partial<LayoutSettings>): void => {
    stored.value = { ...settings.value, ...part };
  };
  return { settings, change };
}
