import { computed, type Ref } from 'vue';
import type { LayersTicket } from '@zographos/contracts';
import { useProject } from '../../stores/project.ts';

/** How large a surface is, and between which heights it lies, in millimetres. */
export interface Extent {
  size: number;
  upright: [number, number];
  middle: [number, number, number];
}

/** What a stack lies on: receivers, or a flat set's tile where there is none. */
export function useReceivers(ticket: Ref<LayersTicket | undefined>) {
  const store = useProject();
  const receivers = computed(() => store.meshesByIds(ticket.value?.inputs.receivers));
  const unit = computed(() => ticket.value?.settings.unit ?? 1);
  const extent = computed((): Extent => {
    const boxes = receivers.value.map(({ inspection }) => inspection.bounds);
    if (boxes.length === 0) {
      const width = ticket.value?.settings.tileWidth ?? 1000;
      return { size: width, upright: [0, width], middle: [width / 2, width / 2, 0] };
    }
    const low = [0, 1, 2].map((k) => Math.min(...boxes.map(({ min }) => min[k]!)) * unit.value);
    const high = [0, 1, 2].map((k) => Math.max(...boxes.map(({ max }) => max[k]!)) * unit.value);
    return {
      size: Math.max(...high.map((value, k) => value - low[k]!)),
      upright: [low[1]!, high[1]!],
      middle: high.map((value, k) => (value + low[k]!) / 2) as [number, number, number],
    };
  });
  /** What steps of masks can name. */
  const triangles = computed(() => receivers.value.reduce((sum, { inspection }) => sum + inspection.triangles, 0));
  const surface = computed(() => ({
    extent: extent.value.size,
    triangles: triangles.value,
    slots: [...new Set(receivers.value.flatMap(({ inspection }) => inspection.slots))],
    objects: receivers.value.map(({ name }) => name),
  }));
  const inMillimetres = (place: readonly [number, number, number]): [number, number, number] =>
    place.map((value) => value * unit.value) as [number, number, number];

  return { receivers, extent, surface, triangles, inMillimetres };
}
