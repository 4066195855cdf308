import { useLocalStorage } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { isLight, type MapKind } from '@zographos/core/image';
import { exposureOf, VIEW_TRANSFORMS, type ScreenView } from '@zographos/core/light';

/** How a map is shown: light through a view, and what is no light as it is. */
export const screenFor = (kind: MapKind, screen: ScreenView): ScreenView =>
  isLight(kind) ? screen : { view: 'srgb', exposure: 0 };

/** Stops that an exposure can be set to. */
const MOST = 12;

/**
 * How light is shown. The exposure suits what is shown first, and is found anew where that is another; the view transform
 * is kept for the next visit.
 * @param mean of the light that is shown, for each colour; null where it is not known yet
 */
export function useScreenView(mean: () => readonly number[] | null) {
  const kept = useLocalStorage<string>('zographos.view transform', 'filmic');
  const exposure = ref(0);
  const screen = computed<ScreenView>({
    get: () => ({ view: VIEW_TRANSFORMS.find((each) => each === kept.value) ?? 'filmic', exposure: exposure.value }),
    set: (next) => {
      kept.value = next.view;
      exposure.value = next.exposure;
    },
  });

  function fit(): void {
    const stops = exposureOf(mean() ?? [0]);
    exposure.value = Math.max(-MOST, Math.min(MOST, Math.round(stops * 10) / 10));
  }

  watch(() => mean()?.join(), fit, { immediate: true });
  return { screen, fit };
}
