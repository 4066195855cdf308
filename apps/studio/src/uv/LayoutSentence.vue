<script setup lang="ts">
import Popover from 'primevue/popover';
import { computed, nextTick, ref } from 'vue';
import type { MeshAsset } from '@zographos/contracts';
import { layoutOperation, type LayoutSettings } from '@zographos/operations';
import LayoutSlot from '../slots/LayoutSlot.vue';

/** A layout as the sentence it reads as; each slot opens its editor. */
const props = defineProps<{ settings: LayoutSettings; meshes: readonly MeshAsset[] }>();
defineEmits<{ change: [Partial<LayoutSettings>]; meshes: [string[]] }>();

const popover = ref<InstanceType<typeof Popover> | null>(null);
const slotName = ref<string | null>(null);
const unit = computed(() => props.meshes[0]?.unit ?? 'units');
const parts = computed(() =>
  layoutOperation.sentence(
    props.settings,
    { receivers: props.meshes.map(({ name }) => name), sources: [] },
    unit.value,
  ),
);
/** Slots the sentence does not name while they hold what is usual. */
const further = computed(() => {
  const named = new Set(parts.value.map(({ slot }) => slot));
  return named.has('room') ? [] : [{ text: 'in which tiles', slot: 'room' }];
});

async function edit(name: string, event: Event): Promise<void> {
  popover.value?.hide();
  slotName.value = name;
  await nextTick();
  popover.value?.show(event, event.currentTarget);
}
</script>

<template>
  <div>
    <p class="sentence">
      <template v-for="(part, i) in parts" :key="i"
        ><button v-if="part.slot" type="button" class="slot" aria-haspopup="dialog" @click="edit(part.slot, $event)">
          {{ part.text }}</button
        ><template v-else>{{ part.text }}</template></template
      >
      <button
        v-for="part in further"
        :key="part.slot"
        type="button"
        class="plain-button"
        aria-haspopup="dialog"
        @click="edit(part.slot, $event)"
      >
        {{ part.text }}
      </button>
    </p>
    <Popover ref="popover" @hide="slotName = null">
      <LayoutSlot
        v-if="slotName"
        :key="slotName"
        :settings="settings"
        :meshes="meshes.map(({ id }) => id)"
        :unit="unit"
        :slot-name="slotName"
        @change="$emit('change', $event)"
        @meshes="$emit('meshes', $event)"
      />
    </Popover>
  </div>
</template>
