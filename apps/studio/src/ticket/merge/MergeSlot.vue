<script setup lang="ts">
import Listbox from 'primevue/listbox';
import {
  DEFAULT_LAYOUT,
  kindOptions,
  MERGED_KINDS,
  type MergeSettings,
  mergeSettings,
  type Spacing,
} from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { lengthOf, limitsOf } from '../../controls/limits.ts';
import NameField from '../../controls/NameField.vue';
import SizeFields from '../../controls/SizeFields.vue';
import MeshList from '../bake/inputs/MeshList.vue';
import SpacingFields from '../layout/SpacingFields.vue';
import PaddingField from '../PaddingField.vue';

/** The editor of one slot of a merge's sentence. */
const props = defineProps<{ settings: MergeSettings; meshes: readonly string[]; slotName: string }>();
const emit = defineEmits<{ change: [Partial<MergeSettings>]; meshes: [string[]] }>();

const PADDING = limitsOf(mergeSettings, 'padding');
const SAMPLES = [1, 2, 3, 4, 6, 8].map((value) => ({ value, label: `${value} × ${value}` }));
const KINDS = kindOptions(MERGED_KINDS);

/** Kinds stay in their usual order, and one always stays. */
function setMaps(chosen: MergeSettings['maps']): void {
  if (chosen.length > 0) emit('change', { maps: MERGED_KINDS.filter((kind) => chosen.includes(kind)) });
}

/** A new layout is made for the size of the maps. */
function setSize(size: MergeSettings['size']): void {
  emit('change', { size, layout: props.settings.layout && { ...props.settings.layout, size } });
}

function setRoom(part: { gap?: Spacing; edge?: Spacing }): void {
  emit('change', { layout: { ...(props.settings.layout ?? DEFAULT_LAYOUT), ...part, size: props.settings.size } });
}
</script>

<template>
  <div class="slot-editor">
    <template v-if="slotName === 'receivers'">
      <h3>Meshes whose materials are merged</h3>
      <MeshList :meshes="meshes" label="Meshes" @choose="emit('meshes', $event)" />
      <p class="soft">They stay unchanged; the merged mesh is a new one.</p>
    </template>
    <template v-else-if="slotName === 'name'">
      <h3>Name</h3>
      <NameField
        label="Name of the merged mesh"
        :value="settings.name"
        :length="lengthOf(mergeSettings, 'name')"
        usual="Merged"
        @change="emit('change', { name: $event })"
      />
      <Choice
        label="Objects"
        :value="settings.keepObjects ? 'apart' : 'one'"
        :options="[
          { value: 'one', label: 'One mesh' },
          { value: 'apart', label: 'Separate objects, one material' },
        ]"
        @choose="emit('change', { keepObjects: $event === 'apart' })"
      />
      <Choice
        label="UV sets"
        :value="settings.keepUvSets ? 'all' : 'one'"
        :options="[
          { value: 'one', label: 'Only the shared layout' },
          { value: 'all', label: 'Keep the others too' },
        ]"
        @choose="emit('change', { keepUvSets: $event === 'all' })"
      />
    </template>
    <template v-else-if="slotName === 'maps'">
      <h3>Maps of the merged material</h3>
      <Listbox
        multiple
        :model-value="settings.maps"
        :options="KINDS"
        option-label="label"
        option-value="value"
        aria-label="Maps"
        @update:model-value="setMaps($event)"
      />
      <p class="soft">Plain colours and images may be mixed; lighting is not included.</p>
    </template>
    <template v-else-if="slotName === 'size'">
      <h3>Size of the maps</h3>
      <SizeFields :size="settings.size" @change="setSize" />
    </template>
    <template v-else-if="slotName === 'layout'">
      <h3>Layout</h3>
      <Choice
        label="Layout"
        :value="settings.layout ? 'new' : 'kept'"
        :options="[
          { value: 'new', label: 'New layout' },
          { value: 'kept', label: 'Existing layout' },
        ]"
        @choose="emit('change', { layout: $event === 'new' ? { ...DEFAULT_LAYOUT, size: settings.size } : null })"
      />
      <SpacingFields v-if="settings.layout" :room="settings.layout" :size="settings.size" @change="setRoom" />
      <p v-else class="soft">Their islands must not overlap there.</p>
    </template>
    <template v-else-if="slotName === 'samples'">
      <h3>Samples per texel, n × n</h3>
      <Choice
        label="Samples"
        :value="settings.samples"
        :options="SAMPLES"
        @choose="emit('change', { samples: $event })"
      />
    </template>
    <template v-else-if="slotName === 'padding'">
      <h3>Padding beyond the islands</h3>
      <PaddingField v-bind="PADDING" :padding="settings.padding" @change="emit('change', { padding: $event })" />
    </template>
  </div>
</template>
