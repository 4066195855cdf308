<script setup lang="ts">
import Button from 'primevue/button';
import InputNumber from 'primevue/inputnumber';
import InputText from 'primevue/inputtext';
import Popover from 'primevue/popover';
import { ref } from 'vue';
import { ENDPOINTS, type ImageSet } from '@zographos/contracts';
import { call } from '../../api/call.ts';
import { useNotices } from '../../stores/notices.ts';

/** Keeps a flat set as it is, for other projects too. */
const props = defineProps<{ set: ImageSet }>();
const notices = useNotices();
const panel = ref<InstanceType<typeof Popover> | null>(null);
const name = ref('');
const tags = ref('');
const width = ref<number | null>(null);
const kept = ref(false);

function open(event: Event): void {
  name.value = props.set.name;
  width.value = props.set.tileWidth;
  kept.value = false;
  panel.value?.toggle(event);
}

async function keep(): Promise<void> {
  const body = {
    name: name.value,
    tags: tags.value
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean),
    tileWidth: width.value,
  };
  const made = await notices.guard(() => call(ENDPOINTS.keepFinish, { id: props.set.id }, body));
  kept.value = made !== undefined;
}
</script>

<template>
  <button type="button" class="plain-button" aria-haspopup="dialog" @click="open">Save as finish</button>
  <Popover ref="panel">
    <form class="slot-editor" @submit.prevent="keep">
      <label>Name <InputText v-model="name" size="small" /></label>
      <label>Tags, separated by commas <InputText v-model="tags" size="small" placeholder="stone, harbour" /></label>
      <label
        >Tile width
        <InputNumber v-model="width" size="small" :min="0.001" :max="1000000" :max-fraction-digits="3" suffix=" mm"
      /></label>
      <Button type="submit" label="Save" size="small" />
      <p v-if="kept" class="mark mark-fresh" role="status"><span>Saved. It is listed under “New material”.</span></p>
    </form>
  </Popover>
</template>

<style scoped>
label {
  display: grid;
  gap: 3px;
}
</style>
