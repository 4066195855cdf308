<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import InputText from 'primevue/inputtext';
import Slider from 'primevue/slider';
import { computed } from 'vue';
import { FIRST_TILE } from '@zographos/core/uv';
import { type LayoutSettings, layoutSettings, shortNumber, texelsOf } from '@zographos/operations';
import Choice from '../../controls/Choice.vue';
import { lengthOf, limitsOf, scaled } from '../../controls/limits.ts';
import NameField from '../../controls/NameField.vue';
import NumberField from '../../controls/NumberField.vue';
import SizeFields from '../../controls/SizeFields.vue';
import { useProject } from '../../stores/project.ts';
import MeshList from '../bake/inputs/MeshList.vue';
import SpacingFields from './SpacingFields.vue';

/** The editor of one slot of a layout's sentence. */
const props = defineProps<{ settings: LayoutSettings; meshes: readonly string[]; slotName: string; unit: string }>();
const emit = defineEmits<{ change: [Partial<LayoutSettings>]; meshes: [string[]] }>();
const store = useProject();

const change = (part: Partial<LayoutSettings>): void => emit('change', part);
const seams = (part: Partial<LayoutSettings['seams']>): void => change({ seams: { ...props.settings.seams, ...part } });
const chosen = computed(() => store.meshesByIds([...props.meshes]));
const BENDS = [
  { value: 0.6, label: 'More islands, less stretch' },
  { value: 2, label: 'Default' },
  { value: 5, label: 'Fewer islands, more stretch' },
] as const;

function setTiles(text: string | undefined): void {
  const tiles = [...new Set((text ?? '').split(/[\s,;]+/).map(Number))].filter(
    (tile) => Number.isInteger(tile) && tile >= FIRST_TILE && tile <= 2000,
  );
  if (tiles.length > 0) change({ tiles });
}

const EDGES = ['left', 'bottom', 'right', 'top'] as const;
function setEdge(at: number, percent: number | null): void {
  const window = props.settings.window.map((value, i) => (i === at ? (percent ?? 0) / 100 : value)) as [
    number,
    number,
    number,
    number,
  ];
  if (window[0] < window[2] && window[1] < window[3]) change({ window });
}
</script>

<template>
  <div class="slot-editor">
    <template v-if="slotName === 'method'">
      <h3>Method</h3>
      <Choice
        label="Method"
        :value="settings.method"
        :options="[
          { value: 'unwrap', label: 'Unwrap' },
          { value: 'pack', label: 'Pack existing islands' },
        ]"
        @choose="change({ method: $event })"
      />
      <p class="soft">The result is a new UV set; the one on screen stays unchanged, and images keep theirs.</p>
    </template>
    <template v-else-if="slotName === 'receivers'">
      <h3>Meshes to lay out</h3>
      <MeshList :meshes="meshes" label="Meshes" @choose="emit('meshes', $event)" />
    </template>
    <template v-else-if="slotName === 'together'">
      <h3>Several meshes</h3>
      <Choice
        label="Together"
        :value="settings.together ? 'one' : 'each'"
        :options="[
          { value: 'one', label: 'One layout for all' },
          { value: 'each', label: 'One layout per mesh' },
        ]"
        @choose="change({ together: $event === 'one' })"
      />
      <p class="soft">Relative texel density: 0.5 gives half the texels along a side.</p>
      <NumberField
        v-for="mesh in chosen"
        :key="mesh.id"
        :label="mesh.name"
        :value="settings.weights[mesh.name] ?? 1"
        v-bind="limitsOf(layoutSettings, 'weights.any', 3)"
        :digits="3"
        suffix=" ×"
        @change="change({ weights: { ...settings.weights, [mesh.name]: $event || 1 } })"
      />
    </template>
    <template v-else-if="slotName === 'name'">
      <h3>Name of the new UV set</h3>
      <NameField
        label="Name of the new UV set"
        :value="settings.name"
        :length="lengthOf(layoutSettings, 'name')"
        usual="Layout"
        @change="change({ name: $event })"
      />
    </template>
    <template v-else-if="slotName === 'size'">
      <h3>Size of the map that will lie on each tile</h3>
      <SizeFields :size="settings.size" @change="change({ size: $event })" />
    </template>
    <template v-else-if="slotName === 'gap'">
      <h3>Spacing</h3>
      <SpacingFields :room="settings" :size="settings.size" @change="change" />
      <p class="soft">
        {{ shortNumber(texelsOf(settings.gap, settings.size)) }} px between islands at {{ settings.size.width }} px.
        Twice the padding keeps bakes apart at every mip level that matters.
      </p>
    </template>
    <template v-else-if="slotName === 'density'">
      <h3>Texel density</h3>
      <Choice
        label="Density"
        :value="settings.density"
        :options="[
          { value: 'equal', label: 'Uniform' },
          { value: 'kept', label: 'Keep relative' },
        ]"
        @choose="change({ density: $event, scale: 'fill' })"
      />
      <NumberField
        :label="settings.density === 'equal' ? `Texel density, px/${unit}` : 'Scale, ×'"
        :value="settings.scale === 'fill' ? null : settings.scale"
        :min="0"
        :digits="4"
        placeholder="Fill the tile"
        @change="change({ scale: $event || 'fill' })"
      />
      <Choice
        label="Rotation"
        :value="settings.rotate ? 'yes' : 'no'"
        :options="[
          { value: 'yes', label: 'Rotate islands' },
          { value: 'no', label: 'Do not rotate' },
        ]"
        @choose="change({ rotate: $event === 'yes' })"
      />
    </template>
    <template v-else-if="slotName === 'seams'">
      <h3>Seams</h3>
      <Choice label="Islands" :value="settings.seams.bend" :options="BENDS" @choose="seams({ bend: $event })" />
      <label
        >{{ settings.seams.bend }}
        <Slider
          :model-value="settings.seams.bend"
          v-bind="limitsOf(layoutSettings, 'seams.bend')"
          :step="0.1"
          aria-label="How much an island may bend"
          @update:model-value="seams({ bend: Number($event) })"
        />
      </label>
      <Choice
        label="Hard edges"
        :value="settings.seams.hardEdges > 0.75 ? 'yes' : 'no'"
        :options="[
          { value: 'yes', label: 'Cut along hard edges' },
          { value: 'no', label: 'Cut anywhere' },
        ]"
        @choose="seams({ hardEdges: $event === 'yes' ? 1 : 0.5 })"
      />
      <Choice
        label="Existing seams"
        :value="settings.seams.existing ? 'yes' : 'no'"
        :options="[
          { value: 'yes', label: 'Keep existing seams' },
          { value: 'no', label: 'Ignore existing seams' },
        ]"
        @choose="seams({ existing: $event === 'yes' })"
      />
    </template>
    <template v-else-if="slotName === 'room'">
      <h3>Area to fill</h3>
      <label
        >tiles
        <InputText
          :model-value="settings.tiles.join(', ')"
          size="small"
          aria-label="Tiles to fill"
          @change="setTiles(($event.target as HTMLInputElement).value)"
        />
      </label>
      <p class="soft">The part of each tile, from its lower left corner:</p>
      <NumberField
        v-for="(edge, i) in EDGES"
        :key="edge"
        :label="edge"
        :value="settings.window[i]! * 100"
        v-bind="scaled(limitsOf(layoutSettings, 'window.0'), 100)"
        :digits="3"
        suffix=" %"
        @change="setEdge(i, $event)"
      />
    </template>
    <template v-else-if="slotName === 'passes'">
      <h3>Packing attempts</h3>
      <InputNumber
        :model-value="settings.passes"
        v-bind="limitsOf(layoutSettings, 'passes')"
        show-buttons
        size="small"
        aria-label="Packing attempts"
        @update:model-value="change({ passes: $event ?? 1 })"
      />
      <p class="soft">The best result is kept. A running layout can be stopped early to keep the best so far.</p>
    </template>
    <template v-else-if="slotName === 'locked'">
      <h3>Locked islands</h3>
      <p>They are neither cut nor moved, and nothing is placed over them.</p>
      <button type="button" class="plain-button" @click="change({ locked: [] })">Unlock all</button>
    </template>
  </div>
</template>

<style scoped>
label {
  display: flex;
  gap: 14px;
  align-items: center;
  justify-content: space-between;
}

label :deep(.p-slider) {
  width: 240px;
}
</style>
