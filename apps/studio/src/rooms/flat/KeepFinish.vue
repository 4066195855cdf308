<script setup lang="ts">
import { Form, type FormSubmitEvent } from '@primevue/forms';
import { zodResolver } from '@primevue/forms/resolvers/zod';
import Button from 'primevue/button';
import InputNumber from 'primevue/inputnumber';
import InputText from 'primevue/inputtext';
import Message from 'primevue/message';
import Popover from 'primevue/popover';
import { ref } from 'vue';
import { z } from 'zod';
import { ENDPOINTS, type ImageSet } from '@zographos/contracts';
import { call } from '../../api/call.ts';
import { useNotices } from '../../stores/notices.ts';

/** Keeps a flat set as it is, for other projects too. */
const props = defineProps<{ set: ImageSet }>();
const notices = useNotices();
const panel = ref<InstanceType<typeof Popover> | null>(null);
const kept = ref(false);
/** The values as the form has them: tags as one text, which the contract takes as a list. */
const finish = zodResolver(
  ENDPOINTS.keepFinish.body.extend({ tags: z.string().transform(tagsOf).pipe(ENDPOINTS.keepFinish.body.shape.tags) }),
);

function tagsOf(text: string): string[] {
  return text
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean);
}

function open(event: Event): void {
  kept.value = false;
  panel.value?.toggle(event);
}

async function keep({ valid, values }: FormSubmitEvent): Promise<void> {
  if (!valid) return;
  // As the resolver has parsed them: tags are a list by then.
  const body = values as z.infer<typeof ENDPOINTS.keepFinish.body>;
  const made = await notices.guard(() => call(ENDPOINTS.keepFinish, { id: props.set.id }, body));
  kept.value = made !== undefined;
}
</script>

<template>
  <button type="button" class="plain-button" aria-haspopup="dialog" @click="open">Save as finish</button>
  <Popover ref="panel">
    <Form
      v-slot="$form"
      class="slot-editor"
      :resolver="finish"
      :initial-values="{ name: set.name, tags: '', tileWidth: set.tileWidth }"
      @submit="keep"
    >
      <label>Name <InputText name="name" size="small" /></label>
      <label>Tags, separated by commas <InputText name="tags" size="small" placeholder="stone, harbour" /></label>
      <label>Tile width <InputNumber name="tileWidth" size="small" :max-fraction-digits="3" suffix=" mm" /></label>
      <template v-for="field in ['name', 'tags', 'tileWidth']" :key="field">
        <Message v-if="$form[field]?.invalid" severity="error" size="small" variant="simple">
          {{ $form[field].error?.message }}
        </Message>
      </template>
      <Button type="submit" label="Save" size="small" />
      <p v-if="kept" class="mark mark-fresh" role="status"><span>Saved. It is listed under “New material”.</span></p>
    </Form>
  </Popover>
</template>

<style scoped>
label {
  display: grid;
  gap: 3px;
}
</style>
