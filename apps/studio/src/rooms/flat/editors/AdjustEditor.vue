<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { Adjustment } from '@zographos/core/adjust';
import type { MapKind } from '@zographos/core/image';
import { kindOptions } from '@zographos/operations';
import AdjustmentSteps from '../../../controls/AdjustmentSteps.vue';
import Dropdown from '../../../controls/Dropdown.vue';

/** What is done to a map at the end, step by step. */
type Adjustments = Partial<Record<MapKind, Adjustment[]>>;
const props = defineProps<{ adjust: Adjustments; kinds: MapKind[]; kind: MapKind | undefined }>();
const emit = defineEmits<{ move: [Adjustments]; change: [Adjustments] }>();

const options = computed(() => kindOptions(props.kinds));
const chosen = ref<MapKind>(props.kind ?? props.kinds[0]!);
watch(
  () => props.kind,
  (kind) => {
    if (kind) chosen.value = kind;
  },
);
const withSteps = (list: Adjustment[]): Adjustments => ({ ...props.adjust, [chosen.value]: list });
</script>

<template>
  <div class="editor">
    <Dropdown label="Map to adjust" :value="chosen" :options="options" @choose="chosen = $event" />
    <AdjustmentSteps
      :steps="adjust[chosen] ?? []"
      @move="emit('move', withSteps($event))"
      @change="emit('change', withSteps($event))"
    />
  </div>
</template>
