<script setup lang="ts">
import { computed } from 'vue';
import { CHANNEL_NAMES, describeKind, type ChannelPick } from '@zographos/core/image';
import Dropdown from '../controls/Dropdown.vue';
import { useProject } from '../stores/project.ts';

/** Whether a ticket takes all of an image, or one channel of it. */
const props = defineProps<{ imageId: string; pick: ChannelPick | undefined }>();
const emit = defineEmits<{ choose: [ChannelPick | undefined] }>();
const store = useProject();

const image = computed(() => store.images.find(({ id }) => id === props.imageId));
const name = computed(() => store.pictureName(props.imageId));
const options = computed(() => [
  { value: 'all', label: 'All channels' },
  { value: 'rgb', label: 'Colours without alpha' },
  ...CHANNEL_NAMES.flatMap((channel, i) => {
    const content = image.value?.packing?.[i];
    const label = content ? `${channel} (${describeKind(content.map).phrase})` : channel;
    return [
      { value: String(i), label },
      { value: `-${i}`, label: `${label}, inverted` },
    ];
  }),
]);
const value = computed(() => (props.pick ? `${props.pick.invert ? '-' : ''}${props.pick.channel}` : 'all'));

function choose(chosen: string): void {
  if (chosen === 'all') emit('choose', undefined);
  else if (chosen === 'rgb') emit('choose', { channel: 'rgb' });
  else emit('choose', { channel: Number(chosen.slice(-1)), ...(chosen.startsWith('-') ? { invert: true } : {}) });
}
</script>

<template>
  <Dropdown :label="`Channels of ${name}`" :value="value" :options="options" @choose="choose" />
</template>
