<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import Listbox from 'primevue/listbox';
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import { AXIS_ORDERS } from '@zographos/core/bake';
import { BAKED_KINDS } from '@zographos/core/image';
import type { BakeOperationSettings } from '@zographos/operations';
import { useProject } from '../../stores/project.ts';
import Choice from '../../controls/Choice.vue';
import DirectionSlot from './DirectionSlot.vue';
import LengthField from '../../controls/LengthField.vue';
import MatchSlot from './MatchSlot.vue';
import MeshesSlot from './MeshesSlot.vue';
import OcclusionSlot from './OcclusionSlot.vue';
import OptionLine from '../../controls/OptionLine.vue';
import PicturesSlot from './PicturesSlot.vue';
import ReachSlot from './ReachSlot.vue';
import RepeatSlot from './RepeatSlot.vue';
import SizeFields from '../../controls/SizeFields.vue';
import TilesSlot from './TilesSlot.vue';

/** The editor of one slot of a ticket's sentence; every change takes effect (and can be undone) at once. */
const props = defineProps<{ ticket: BakeTicket; slotName: string }>();
const store = useProject();

const settings = computed(() => props.ticket.settings);
const change = (what: string, part: Partial<BakeOperationSettings>): void =>
  void store.changeTicket(props.ticket.id, what, { settings: { ...settings.value, ...part } });

const cages = computed(() => {
  const { receivers } = props.ticket.inputs;
  const triangles = store.meshById(receivers[0]!)?.inspection.triangles;
  const fitting = store.meshes.filter(
    (mesh) => receivers.length === 1 && mesh.id !== receivers[0] && mesh.inspection.triangles === triangles,
  );
  return [
    { id: '', label: 'the same distance from the receiver everywhere' },
    ...fitting.map((mesh) => ({ id: mesh.id, label: mesh.name })),
  ];
});

/** Inputs with one of them set, or left out. */
function setInput(which: 'mask' | 'cage', value: string | undefined): void {
  const inputs = { ...props.ticket.inputs, [which]: value };
  void store.changeTicket(props.ticket.id, which, { inputs });
}

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

const OVERSIZES = [
  { value: 1, label: 'as large as the map' },
  { value: 2, label: '2 × larger' },
  { value: 4, label: '4 × larger' },
] as const;
const AXES = AXIS_ORDERS.map((value) => ({ value, label: value.toUpperCase() }));
const DIRECTIONS = [
  { value: '1,0,0', label: '+ X' },
  { value: '-1,0,0', label: '− X' },
  { value: '0,1,0', label: '+ Y' },
  { value: '0,-1,0', label: '− Y' },
  { value: '0,0,1', label: '+ Z' },
  { value: '0,0,-1', label: '− Z' },
];

const unit = computed(() => store.meshById(props.ticket.inputs.receivers[0]!)?.unit ?? 'units');

const NOTES: Record<(typeof BAKED_KINDS)[number], string> = {
  normal: 'the bends of the source',
  height: 'distance to the source',
  ao: 'how open each place is',
  bent: 'where it is open to',
  thickness: 'how much lies below',
  curvature: 'ridges and hollows',
  position: 'where it lies',
  gradient: 'growing along a direction',
  facing: 'the way its faces look',
  id: 'a colour for each piece',
  basecolor: 'colour of the materials',
  roughness: 'of the materials',
  metallic: 'of the materials',
  opacity: 'of the materials',
  emission: 'of the materials',
  coverage: 'what the layout covers',
  guide: 'islands and edges to paint over',
};
const MAPS = BAKED_KINDS.map((value) => ({ value, label: value, note: NOTES[value] }));

/** Kinds stay in their usual order, and one always stays. */
function setMaps(chosen: BakeOperationSettings['maps']): void {
  if (chosen.length > 0) change('maps', { maps: BAKED_KINDS.filter((kind) => chosen.includes(kind)) });
}
</script>

<template>
  <div class="editor">
    <MeshesSlot v-if="slotName === 'receivers' || slotName === 'sources'" :ticket="ticket" :which="slotName" />
    <MatchSlot v-else-if="slotName === 'match'" :ticket="ticket" @change="change('matching', { match: $event })" />
    <TilesSlot v-else-if="slotName === 'tiles'" :ticket="ticket" @change="change('tiles', $event)" />
    <RepeatSlot
      v-else-if="slotName === 'repeat'"
      :repeat="settings.repeat"
      @change="change('pattern', { repeat: $event })"
    />
    <DirectionSlot
      v-else-if="slotName === 'direction'"
      :settings="settings"
      :unit="unit"
      :mask="ticket.inputs.mask"
      @change="change('directions', $event)"
      @mask="setInput('mask', $event)"
    />

    <PicturesSlot v-else-if="slotName === 'pictures'" :ticket="ticket" />

    <template v-else-if="slotName === 'size'">
      <h3>Size of the map</h3>
      <SizeFields :size="settings.size" @change="change('size', { size: $event })" />
    </template>

    <ReachSlot v-else-if="slotName === 'reach'" :ticket="ticket" @change="change('reach', $event)" />

    <template v-else-if="slotName === 'samples'">
      <h3>Samples in each texel</h3>
      <Choice
        label="Samples"
        :value="settings.samples"
        :options="SAMPLES"
        @choose="change('samples', { samples: $event })"
      />
      <Choice
        label="Size while baking"
        :value="settings.oversize"
        :options="OVERSIZES"
        @choose="change('size while baking', { oversize: $event })"
      />
      <p class="soft">4 × 4 gives clean edges; 1 × 1 is a quick look. Baking larger and halving sharpens.</p>
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
      <label class="check"
        ><input type="checkbox" :checked="settings.mend" @change="change('seams', { mend: !settings.mend })" /> mend
        seams: both sides of each agree when sampled</label
      >
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
      <Choice
        label="Axes in red, green and blue"
        :value="settings.normal.axes"
        :options="AXES"
        @choose="change('order of axes', { normal: { ...settings.normal, axes: $event } })"
      />
      <p class="soft">Tangent space follows MikkTSpace. Green points up the picture or down, as the renderer wants.</p>
    </template>

    <template v-else-if="slotName === 'scale'">
      <h3>Size of the sources</h3>
      <label class="length"
        >their lengths are multiplied by
        <InputNumber
          :model-value="settings.sourceScale"
          :min="0"
          :max-fraction-digits="6"
          size="small"
          @update:model-value="$event && change('size of the sources', { sourceScale: $event })"
      /></label>
      <p class="soft">For sources that come in another unit than the receivers.</p>
    </template>

    <template v-else-if="slotName === 'uvSet'">
      <h3>The receiver's UV set</h3>
      <Listbox
        :model-value="settings.uvSet"
        :options="
          (store.meshById(ticket.inputs.receivers[0]!)?.inspection.uvSets ?? []).map((label, value) => ({
            label,
            value,
          }))
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
          { value: 'flip', label: 'count, turned over' },
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
        @update:model-value="$event !== null && setInput('cage', $event)"
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
      <LengthField
        label="averaged within"
        may-be-zero
        auto="as the size suggests"
        :value="settings.curvature.radius"
        :unit="unit"
        @change="change('curvature', { curvature: { ...settings.curvature, radius: $event } })"
      />
    </template>

    <template v-else-if="slotName === 'height'">
      <h3>Heights in whole numbers</h3>
      <LengthField
        label="from black to white"
        auto="as much as is needed"
        :value="settings.height.span"
        :unit="unit"
        @change="change('height', { height: { ...settings.height, span: $event } })"
      />
      <label class="length"
        >the receiver’s own surface
        <InputNumber
          :model-value="settings.height.mid"
          :min="0"
          :max="1"
          :max-fraction-digits="3"
          :step="0.05"
          show-buttons
          size="small"
          @update:model-value="$event !== null && change('height', { height: { ...settings.height, mid: $event } })"
      /></label>
      <p class="soft">
        EXR keeps heights as they are, in {{ unit }}; 8 and 16 bit need a range, which stays with the map.
      </p>
    </template>

    <template v-else-if="slotName === 'gradient'">
      <h3>The way the gradient grows</h3>
      <Choice
        label="Direction"
        :value="settings.gradient.join()"
        :options="DIRECTIONS"
        @choose="change('gradient', { gradient: $event.split(',').map(Number) as [number, number, number] })"
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
          { value: 'color', label: 'vertex colours' },
        ]"
        @choose="change('pieces', { id: $event })"
      />
    </template>

    <OcclusionSlot
      v-else-if="slotName === 'occlusion'"
      :settings="settings.occlusion"
      :unit="unit"
      :sources="ticket.inputs.sources.map((id) => store.meshById(id)?.name ?? '')"
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
  max-width: 480px;
}

.pair {
  display: flex;
  gap: 14px;
  align-items: center;
}

.check {
  display: flex;
  gap: 6px;
  align-items: baseline;
}

.length {
  display: flex;
  gap: 14px;
  align-items: center;
  justify-content: space-between;
}

.length :deep(input) {
  width: 170px;
}

.pair :deep(input) {
  width: 104px;
}
</style>
