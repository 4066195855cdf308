<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import Listbox from 'primevue/listbox';
import { computed } from 'vue';
import type { Ticket } from '@zographos/contracts';
import { BAKED_KINDS } from '@zographos/core';
import type { BakeOperationSettings } from '@zographos/operations';
import { whole } from '../parts/format.ts';
import { useProject } from '../stores/project.ts';
import Choice from './Choice.vue';
import OcclusionSlot from './OcclusionSlot.vue';
import OptionLine from './OptionLine.vue';
import ReachSlot from './ReachSlot.vue';

/** The editor of one slot of a ticket's sentence; every change takes effect (and can be undone) at once. */
const props = defineProps<{ ticket: Ticket; slotName: string }>();
const store = useProject();

const settings = computed(() => props.ticket.settings);
const change = (what: string, part: Partial<BakeOperationSettings>): void =>
  void store.changeTicket(props.ticket.id, what, { settings: { ...settings.value, ...part } });

const receivers = computed(() =>
  store.meshes.map((mesh) => ({
    id: mesh.id,
    label: mesh.name,
    note: mesh.inspection.uvSets.length ? `${whole(mesh.inspection.triangles)} triangles` : 'no UVs',
    unfit: mesh.inspection.uvSets.length === 0,
  })),
);
const sources = computed(() =>
  store.meshes.map((mesh) => ({
    id: mesh.id,
    label: mesh.name,
    note: `${whole(mesh.inspection.triangles)} triangles`,
  })),
);

const cages = computed(() => {
  const { receiver } = props.ticket.inputs;
  const triangles = store.meshById(receiver)?.inspection.triangles;
  const fitting = store.meshes.filter((mesh) => mesh.id !== receiver && mesh.inspection.triangles === triangles);
  return [
    { id: '', label: 'the same distance from the receiver everywhere' },
    ...fitting.map((mesh) => ({ id: mesh.id, label: mesh.name })),
  ];
});

function setCage(id: string): void {
  const { receiver, sources } = props.ticket.inputs;
  void store.changeTicket(props.ticket.id, 'cage', { inputs: { receiver, sources, ...(id ? { cage: id } : {}) } });
}

const SIZES = [256, 512, 1024, 2048, 4096, 8192].map((value) => ({ value, label: String(value) }));
const SAMPLES = [1, 2, 3, 4, 6, 8].map((value) => ({ value, label: `${value} × ${value}` }));
const SPACES = [
  { value: 'tangent', label: 'tangent space' },
  { value: 'object', label: 'object space' },
] as const;
const BENDS = [
  { value: 'both', label: 'both' },
  { value: 'convex', label: 'convex' },
  { value: 'concave', label: 'concave' },
] as const;
const UPS = [
  { value: 'up', label: 'Y up' },
  { value: 'down', label: 'Y down' },
] as const;

const unit = computed(() => store.meshById(props.ticket.inputs.receiver)?.unit ?? 'units');

const NOTES: Record<(typeof BAKED_KINDS)[number], string> = {
  normal: 'the bends of the source',
  height: 'distance to the source',
  ao: 'how open each place is',
  bent: 'where it is open to',
  thickness: 'how much lies below',
  curvature: 'ridges and hollows',
  position: 'where it lies',
  id: 'a colour for each piece',
  basecolor: 'colours of the vertices',
  coverage: 'what the layout covers',
};
const MAPS = BAKED_KINDS.map((value) => ({ value, label: value, note: NOTES[value] }));

/** Kinds stay in their usual order, and one always stays. */
function setMaps(chosen: BakeOperationSettings['maps']): void {
  if (chosen.length > 0) change('maps', { maps: BAKED_KINDS.filter((kind) => chosen.includes(kind)) });
}

function setSide(side: 'width' | 'height', value: number | null): void {
  if (value) change('size', { size: { ...settings.value.size, [side]: value } });
}
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'receiver'">
      <h3>The mesh that carries the maps</h3>
      <Listbox
        :model-value="ticket.inputs.receiver"
        :options="receivers"
        option-label="label"
        option-value="id"
        option-disabled="unfit"
        aria-label="Receiver"
        @update:model-value="
          $event && store.changeTicket(ticket.id, 'receiver', { inputs: { ...ticket.inputs, receiver: $event } })
        "
      >
        <template #option="{ option }"><OptionLine :option="option" /></template>
      </Listbox>
    </template>

    <template v-else-if="slotName === 'sources'">
      <h3>The meshes that give the detail</h3>
      <Listbox
        multiple
        :model-value="ticket.inputs.sources"
        :options="sources"
        option-label="label"
        option-value="id"
        aria-label="Sources"
        @update:model-value="
          store.changeTicket(ticket.id, 'sources', { inputs: { ...ticket.inputs, sources: $event } })
        "
      >
        <template #option="{ option, selected }"><OptionLine :option="option" :ticked="selected" /></template>
      </Listbox>
    </template>

    <template v-else-if="slotName === 'size'">
      <h3>Size of the map</h3>
      <Choice
        label="Square size"
        :value="settings.size.width === settings.size.height ? settings.size.width : null"
        :options="SIZES"
        @choose="change('size', { size: { width: $event, height: $event } })"
      />
      <div class="pair">
        <label
          >wide
          <InputNumber
            :model-value="settings.size.width"
            :min="16"
            :max="16384"
            suffix=" px"
            size="small"
            @update:model-value="setSide('width', $event)"
        /></label>
        <label
          >high
          <InputNumber
            :model-value="settings.size.height"
            :min="16"
            :max="16384"
            suffix=" px"
            size="small"
            @update:model-value="setSide('height', $event)"
        /></label>
      </div>
    </template>

    <ReachSlot v-else-if="slotName === 'reach'" :ticket="ticket" @change="change('reach', { reach: $event })" />

    <template v-else-if="slotName === 'samples'">
      <h3>Samples in each texel</h3>
      <Choice
        label="Samples"
        :value="settings.samples"
        :options="SAMPLES"
        @choose="change('samples', { samples: $event })"
      />
      <p class="soft">4 × 4 gives clean edges; 1 × 1 is a quick look.</p>
    </template>

    <template v-else-if="slotName === 'padding'">
      <h3>Padding beyond the islands</h3>
      <div class="pair">
        <InputNumber
          :model-value="settings.padding === 'all' ? null : settings.padding"
          :min="0"
          :max="16384"
          suffix=" px"
          size="small"
          aria-label="Padding in texels"
          placeholder="everywhere"
          @update:model-value="$event !== null && change('padding', { padding: $event })"
        />
        <button
          type="button"
          class="plain-button"
          @click="change('padding', { padding: settings.padding === 'all' ? 16 : 'all' })"
        >
          {{ settings.padding === 'all' ? 'Only 16 px' : 'Fill everything' }}
        </button>
      </div>
      <p class="soft">Texels beyond an island repeat its nearest one, so that nothing foreign shows along seams.</p>
    </template>

    <template v-else-if="slotName === 'normal'">
      <h3>How normals are written</h3>
      <Choice
        label="Space"
        :value="settings.normal.space"
        :options="SPACES"
        @choose="change('space', { normal: { ...settings.normal, space: $event } })"
      />
      <Choice
        v-if="settings.normal.space === 'tangent'"
        label="Direction of green"
        :value="settings.normal.y"
        :options="UPS"
        @choose="change('direction of green', { normal: { ...settings.normal, y: $event } })"
      />
      <p class="soft">Tangent space follows MikkTSpace. Green points up the picture or down, as the renderer wants.</p>
    </template>

    <template v-else-if="slotName === 'uvSet'">
      <h3>The receiver's UV set</h3>
      <Listbox
        :model-value="settings.uvSet"
        :options="
          (store.meshById(ticket.inputs.receiver)?.inspection.uvSets ?? []).map((label, value) => ({ label, value }))
        "
        option-label="label"
        option-value="value"
        aria-label="UV set"
        @update:model-value="$event !== null && change('UV set', { uvSet: $event })"
      />
    </template>

    <template v-else-if="slotName === 'backFaces'">
      <h3>Rays that meet the source from behind</h3>
      <Choice
        label="Back faces"
        :value="settings.backFaces"
        :options="[
          { value: 'ignore', label: 'go on' },
          { value: 'accept', label: 'count as hits' },
        ]"
        @choose="change('back faces', { backFaces: $event })"
      />
    </template>

    <template v-else-if="slotName === 'cage'">
      <h3>Where rays start</h3>
      <Listbox
        :model-value="ticket.inputs.cage ?? ''"
        :options="cages"
        option-label="label"
        option-value="id"
        aria-label="Cage"
        @update:model-value="$event !== null && setCage($event)"
      />
      <p class="soft">
        A cage is a copy of the receiver whose vertices were moved outwards. Meshes with as many triangles as the
        receiver are listed.
      </p>
    </template>

    <template v-else-if="slotName === 'curvature'">
      <h3>What curvature shows</h3>
      <Choice
        label="Bends to show"
        :value="settings.curvature.show"
        :options="BENDS"
        @choose="change('curvature', { curvature: { ...settings.curvature, show: $event } })"
      />
    </template>

    <template v-else-if="slotName === 'id'">
      <h3>What the colours tell apart</h3>
      <Choice
        label="Pieces"
        :value="settings.id"
        :options="[
          { value: 'slot', label: 'material slots' },
          { value: 'object', label: 'objects' },
          { value: 'part', label: 'connected parts' },
        ]"
        @choose="change('pieces', { id: $event })"
      />
    </template>

    <template v-else-if="slotName === 'direction'">
      <h3>Along which normals rays go</h3>
      <Choice
        label="Directions"
        :value="settings.direction"
        :options="[
          { value: 'smooth', label: 'smooth over hard edges' },
          { value: 'split', label: 'as the receiver has them' },
        ]"
        @choose="change('directions', { direction: $event })"
      />
      <p class="soft">Smooth directions leave no gap at hard edges; split ones do not skew detail on flat faces.</p>
    </template>

    <OcclusionSlot
      v-else-if="slotName === 'occlusion'"
      :settings="settings.occlusion"
      :unit="unit"
      @change="change('rays', { occlusion: { ...settings.occlusion, ...$event } })"
    />

    <template v-else>
      <h3>Maps</h3>
      <Listbox
        multiple
        :model-value="settings.maps"
        :options="MAPS"
        option-label="label"
        option-value="value"
        aria-label="Maps"
        scroll-height="340px"
        @update:model-value="setMaps($event)"
      >
        <template #option="{ option, selected }"><OptionLine :option="option" :ticked="selected" /></template>
      </Listbox>
    </template>
  </div>
</template>

<style scoped>
.editor {
  display: grid;
  gap: 10px;
  max-width: 400px;
}

.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.pair :deep(input) {
  width: 104px;
}
</style>
