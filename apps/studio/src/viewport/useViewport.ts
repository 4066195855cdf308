import { useElementSize } from '@vueuse/core';
import { onMounted, onUnmounted, watch, type Ref } from 'vue';
import { useLight } from '../stores/light.ts';
import { surroundColor } from '../theme/surroundColor.ts';
import { Viewport, type ViewLook } from './Viewport.ts';

/**
 * A viewport in a component: as large as its holder, with the background of the light box, closed with the component.
 * @param look how everything is shown; changes are seen at once
 * @param opened told the viewport once it is there
 */
export function useViewport(
  canvas: Ref<HTMLCanvasElement | null>,
  holder: Ref<HTMLElement | null>,
  look: Readonly<Ref<ViewLook>>,
  opened: (viewport: Viewport) => void,
): { current: Viewport | null } {
  const handle: { current: Viewport | null } = { current: null };
  const light = useLight();
  const { width, height } = useElementSize(holder);
  const showBackground = (): void => handle.current?.setBackground(surroundColor());
  const fit = (): void => {
    if (width.value > 0 && height.value > 0) handle.current?.resize(width.value, height.value);
  };
  onMounted(() => {
    handle.current = new Viewport(canvas.value!);
    showBackground();
    fit();
    handle.current.setLook(look.value);
    opened(handle.current);
  });
  onUnmounted(() => {
    handle.current?.close();
    handle.current = null;
  });
  watch([width, height], fit);
  watch(look, (now) => handle.current?.setLook(now));
  watch(() => light.light, showBackground, { flush: 'post' });
  return handle;
}
