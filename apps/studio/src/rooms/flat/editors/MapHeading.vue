<script setup lang="ts">
import { computed } from 'vue';
import { MAP_KIND_IDS, type MapKind } from '@zographos/core/image';
import { kindOptions } from '@zographos/operations';
import Dropdown from '../../../controls/Dropdown.vue';

/** Which kind one of the maps of a ticket is: each kind can be there once, and at least one map. */
const props = defineProps<{ at: number; kinds: readonly MapKind[] }>();
const emit = defineEmits<{ choose: [MapKind]; remove: [] }>();
const kind = computed(() => props.kinds[props.at]!);
const options = computed(() =>
  kindOptions(MAP_KIND_IDS.filter((each) => each === kind.value || !props.kinds.includes(each))),
);
</script>

<template>
  <h3>
    <Dropdown :label="`Map ${at + 1}`" :value="kind" :options="options" @choose="emit('choose', $event)" />
    <button v-if="kinds.length > 1" type="button" class="plain-button" @click="emit('remove')">Remove</button>
  </h3>
</template>
