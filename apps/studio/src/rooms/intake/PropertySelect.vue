<script setup lang="ts" generic="T extends string">
import { useId } from 'vue';
import Dropdown from '../../controls/Dropdown.vue';

/** A property of a file that is chosen from a list, as a row of its list of properties. */
defineProps<{ label: string; value: T; options: readonly { value: T; label: string }[] }>();
const emit = defineEmits<{ change: [T] }>();
const id = useId();
</script>

<template>
  <dt>
    <label :for="id">{{ label }}</label>
  </dt>
  <dd>
    <Dropdown :label="label" :value="value" :options="options" :input-id="id" @choose="emit('change', $event)" />
  </dd>
</template>
