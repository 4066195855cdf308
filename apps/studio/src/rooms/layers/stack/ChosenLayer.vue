<script setup lang="ts">
import { computed } from 'vue';
import { layerSentence } from '@zographos/operations';
import type { Layer } from '@zographos/core/layers';
import type { ImageSet } from '@zographos/contracts';
import NameField from '../../../controls/NameField.vue';
import { useProject } from '../../../stores/project.ts';
import SlotSentence from '../../../ticket/SlotSentence.vue';
import BlendEditor from '../editors/BlendEditor.vue';
import ContentEditor from '../editors/ContentEditor.vue';
import MaskEditor from '../editors/MaskEditor.vue';
import type { StepSurface } from '../editors/newStep.ts';
import type { usePlacing } from '../placing/usePlacing.ts';
import type { OpenStack } from './useStack.ts';

/** The chosen layer as a sentence, each slot of which opens an editor. */
const props = defineProps<{
  stack: OpenStack;
  layer: Layer;
  placement: ReturnType<typeof usePlacing>;
  surface: StepSurface;
  /** Flat sets that layers can be made of. */
  materials: readonly ImageSet[];
  /** How often values occur in what is being set. */
  histogram: readonly number[] | null;
}>();
/** The slot that is edited. */
const slotName = defineModel<string | null>('slotName', { required: true });
defineEmits<{ keep: [] }>();
const store = useProject();

const { picking, placing, faceAngle, byLasso } = props.placement;
const pictures = props.stack.pictures.chosen;
const sentence = computed(() =>
  layerSentence(props.layer, {
    materials: (props.stack.settings.value?.materials ?? []).map(({ name }) => name),
    pictures: (props.stack.ticket.value?.inputs.pictures ?? []).map(store.pictureName),
  }),
);

function setMaterial(id: string): void {
  const flat = props.materials.find((each) => each.id === id);
  if (flat) void props.stack.setMaterial(props.layer, flat);
}
</script>

<template>
  <section class="panel chosen">
    <h2>
      <NameField
        :key="layer.id"
        label="Name of the layer"
        usual="Layer"
        :length="120"
        :value="layer.name"
        @change="stack.changeLayer({ ...layer, name: $event }, 'name')"
      />
    </h2>
    <SlotSentence small :parts="sentence" :chosen="slotName" @choose="slotName = slotName === $event ? null : $event" />
    <div class="ways">
      <button type="button" class="plain-button" @click="stack.moveBy(layer.id, 1)">Move up</button>
      <button type="button" class="plain-button" @click="stack.moveBy(layer.id, -1)">Move down</button>
      <button type="button" class="plain-button" @click="stack.duplicate(layer)">Duplicate</button>
      <button type="button" class="plain-button" @click="stack.group(layer)">Group</button>
      <button type="button" class="plain-button" @click="$emit('keep')">Keep as coating</button>
      <button type="button" class="plain-button" @click="stack.remove(layer)">Remove</button>
    </div>
    <slot>
      <div v-if="slotName" class="editor">
        <MaskEditor
          v-if="slotName === 'mask'"
          :mask="layer.mask"
          :surface="surface"
          :picking="picking"
          :placing="placing === 'content' ? null : placing"
          :pictures="pictures"
          :title="layer.name"
          :face-angle="faceAngle"
          :by-lasso="byLasso"
          :histogram="histogram"
          @face-angle="faceAngle = $event"
          @by-lasso="byLasso = $event"
          @grow="placement.grow"
          @placing="placing = $event"
          @image="placement.setImage($event.at, $event.id)"
          @lettering="placement.setImage($event.at, $event.id, $event.aspect, $event.text)"
          @pick="picking = $event"
          @move="stack.move({ ...layer, mask: $event })"
          @change="stack.changeLayer({ ...layer, mask: $event }, 'mask')"
        />
        <BlendEditor
          v-else-if="slotName === 'blend' || slotName === 'opacity'"
          :layer="layer"
          @move="stack.move"
          @change="stack.changeLayer($event, 'blending')"
        />
        <ContentEditor
          v-else
          :layer="layer"
          :materials="materials"
          :material="stack.materialSetOf(layer)"
          :extent="surface.extent"
          :pictures="pictures"
          :placing="placing === 'content'"
          :histogram="histogram"
          @placing="placing = $event ? 'content' : null"
          @image="placement.setImage('content', $event)"
          @move="stack.move"
          @change="stack.changeLayer"
          @material="setMaterial"
        />
      </div>
    </slot>
  </section>
</template>

<style scoped>
.ways {
  gap: 0 2px;
}

.editor {
  display: grid;
  gap: 8px;
  padding-top: 8px;
}
</style>
