<script setup lang="ts">
import { computed } from 'vue';
import type { Symmetry } from '@zographos/core/layers';
import Amounts from '../../../controls/Amounts.vue';
import Choice from '../../../controls/Choice.vue';
import { COUNT, POSITION } from '../editors/layerFields.ts';

/** Copies that are painted at once: mirrored about a plane, or turned about an axis. */
const props = defineProps<{ symmetry: Symmetry | null; middle: readonly [number, number, number]; extent: number }>();
const emit = defineEmits<{ change: [Symmetry | null] }>();

const KINDS = [
  { value: 'none', label: 'None' },
  { value: 'mirror', label: 'Mirror' },
  { value: 'turn', label: 'Turn' },
] as const;
const AXES = (['X', 'Y', 'Z'] as const).map((label, value) => ({ value: value as 0 | 1 | 2, label }));
const fields = computed(() =>
  props.symmetry?.by === 'turn' ? [COUNT('times', 'Times', 2, 64, 6)] : [POSITION('at', 'At', props.extent)],
);

function choose(kind: 'none' | 'mirror' | 'turn'): void {
  const [x, y, z] = props.middle;
  const axis = props.symmetry?.axis ?? (kind === 'turn' ? 1 : 0);
  if (kind === 'none') emit('change', null);
  else if (kind === 'mirror') emit('change', { by: 'mirror', axis, at: props.middle[axis] });
  else emit('change', { by: 'turn', axis, at: [x, y, z], times: 6 });
}

function setAxis(axis: 0 | 1 | 2): void {
  if (props.symmetry?.by === 'mirror') emit('change', { by: 'mirror', axis, at: props.middle[axis] });
  else if (props.symmetry) emit('change', { ...props.symmetry, axis });
}
</script>

<template>
  <Choice label="Symmetry" :value="symmetry?.by ?? 'none'" :options="KINDS" @choose="choose" />
  <template v-if="symmetry">
    <Choice label="Axis" :value="symmetry.axis" :options="AXES" @choose="setAxis" />
    <Amounts
      :values="{ ...symmetry } as Record<string, unknown>"
      :fields="fields"
      @move="emit('change', $event as unknown as Symmetry)"
      @change="emit('change', $event as unknown as Symmetry)"
    />
  </template>
</template>
