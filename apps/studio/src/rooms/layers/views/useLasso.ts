import { shallowRef, type Ref } from 'vue';

/** The corners that a lasso has at most; a longer line loses every second one. */
const MOST_CORNERS = 2000;
/** Steps that are smaller, in shares of the view, are left out. */
const LEAST_STEP = 0.002;

/** Draws a lasso over a view by dragging. */
export function useLasso(element: Ref<HTMLElement | null>) {
  /** x and y of each corner, 0 to 1 over the view, from the upper left; empty while none is drawn. */
  const points = shallowRef<number[]>([]);

  const placeOf = ({ offsetX, offsetY }: PointerEvent): [number, number] => {
    const { width, height } = element.value!.getBoundingClientRect();
    return [offsetX / width, offsetY / height];
  };

  function begin(event: PointerEvent): void {
    element.value!.setPointerCapture(event.pointerId);
    points.value = placeOf(event);
  }

  function goOn(event: PointerEvent): void {
    const [x, y] = placeOf(event);
    const [lastX = 0, lastY = 0] = points.value.slice(-2);
    if (Math.hypot(x - lastX, y - lastY) < LEAST_STEP) return;
    const kept = points.value.length < MOST_CORNERS * 2 ? points.value : points.value.filter((_, i) => i % 4 < 2);
    points.value = [...kept, x, y];
  }

  /** @returns the corners; null where the line has no area */
  function end(): number[] | null {
    const drawn = points.value;
    points.value = [];
    return drawn.length >= 6 ? drawn : null;
  }

  return { points, begin, goOn, end };
}
