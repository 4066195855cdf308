<script setup lang="ts">
import { computed } from 'vue';
import {
  BAND_WIDTHS,
  DERIVED_KINDS,
  PICKED_KINDS,
  type DerivedKind,
  type HeightSuggestion,
  type PickedKind,
} from '@zographos/core/derive';
import { describeKind } from '@zographos/core/image';
import {
  DERIVE_SOURCE_LABELS,
  optionsOf,
  SLOPE_OPERATOR_LABELS,
  TONE_WAY_LABELS,
  type DeriveSettings,
} from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import NumberField from '../../../controls/NumberField.vue';
import Amount from './Amount.vue';
import { percentField, type AmountField } from './amountField.ts';
import Amounts from './Amounts.vue';
import PickedEditor from './PickedEditor.vue';
import CheckLine from '../../../controls/CheckLine.vue';

/** What can be said about maps that are derived, slot by slot. */
const props = defineProps<{
  settings: DeriveSettings;
  slotName: string;
  suggestion: HeightSuggestion | null;
  /** Heights along the middle of the tile. */
  profile: Float32Array | null;
  depth: number | null;
  alone: number | null;
}>();
const emit = defineEmits<{ move: [DeriveSettings]; change: [DeriveSettings, string]; alone: [number | null] }>();

type Part = Partial<DeriveSettings>;
const move = (part: Part): void => emit('move', { ...props.settings, ...part });
const change = (part: Part, what: string): void => emit('change', { ...props.settings, ...part }, what);

const SOURCES = optionsOf(DERIVE_SOURCE_LABELS);
const TONE_WAYS = optionsOf(TONE_WAY_LABELS);
const OPERATORS = optionsOf(SLOPE_OPERATOR_LABELS);
const SCALE_NAMES = ['1 px', '1/256 of the tile', '1/64 of the tile', '1/16 of the tile'];
const BAND_NAMES = [...BAND_WIDTHS.map((width) => `1/${Math.round(1 / width)} of the tile`), 'Larger'];

const AO = [percentField('reach', 'Max. distance, % of the tile width', [0.005, 0.3], 0.06, 2)];
const EDGES = [
  percentField('radius', 'Radius shown as white', [0.001, 0.2], 0.02, 2),
  percentField('width', 'Smoothing radius', [0, 0.05], 0.002, 2),
];
const CAVITY: AmountField<keyof DeriveSettings['cavity']>[] = [
  percentField('width', 'Radius', [0.002, 0.2], 0.02, 2),
  { name: 'strength', label: 'Strength', min: 0, max: 10, usual: 1 },
];
const TONE: AmountField<'contrast' | 'bias'>[] = [
  { name: 'contrast', label: 'Contrast', min: 0, max: 4, usual: 1 },
  { name: 'bias', label: 'Offset', min: -0.5, max: 0.5, usual: 0 },
];
const RELIEF: AmountField<'sharpen' | 'denoise'>[] = [
  { name: 'sharpen', label: 'Sharpen', min: 0, max: 4, usual: 0 },
  { name: 'denoise', label: 'Denoise', min: 0, max: 1, usual: 0 },
];

const height = (part: Partial<DeriveSettings['height']>): Part => ({ height: { ...props.settings.height, ...part } });
const normal = (part: Partial<DeriveSettings['normal']>): Part => ({ normal: { ...props.settings.normal, ...part } });
const at = <T,>(list: readonly T[], i: number, value: T): T[] => list.map((each, k) => (k === i ? value : each));
const picked = computed<PickedKind | undefined>(() => PICKED_KINDS.find((kind) => kind === props.slotName));

function toggle(kind: DerivedKind, on: boolean): void {
  const maps = DERIVED_KINDS.filter((each) => (each === kind ? on : props.settings.maps.includes(each)));
  if (maps.length > 0) change({ maps }, 'maps');
}

/** The profile as a line 300 wide and 60 high. */
const line = computed(() => {
  const { profile } = props;
  if (!profile) return null;
  return Array.from(profile, (value, x) => `${(x / (profile.length - 1)) * 300},${58 - value * 56}`).join(' ');
});
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'maps'">
      <CheckLine
        v-for="kind in DERIVED_KINDS"
        :key="kind"
        :label="describeKind(kind).label"
        :value="settings.maps.includes(kind)"
        @change="toggle(kind, $event)"
      />
    </template>

    <template v-else-if="slotName === 'from' || slotName === 'pictures'">
      <Choice label="Source" :value="settings.from" :options="SOURCES" @choose="change({ from: $event }, 'source')" />
      <CheckLine
        label="Tiling image: filters wrap at the borders"
        :value="settings.repeats"
        @change="change({ repeats: $event }, 'borders')"
      />
    </template>

    <template v-else-if="slotName === 'height'">
      <Choice
        label="Which tones are high"
        :value="settings.height.way"
        :options="TONE_WAYS"
        @choose="change(height({ way: $event }), 'height')"
      />
      <p v-if="suggestion" class="soft suggestion">
        Likely: <strong>{{ TONE_WAY_LABELS[suggestion.way].label }}</strong>. {{ suggestion.reason }}
        <button
          v-if="settings.height.way !== suggestion.way"
          type="button"
          class="plain-button"
          @click="change(height({ way: suggestion.way }), 'height')"
        >
          Use suggestion
        </button>
      </p>
      <svg v-if="line" class="profile" viewBox="0 0 300 60" role="img" aria-label="Height profile along the middle row">
        <polyline :points="line" />
      </svg>
      <h3>Detail by size</h3>
      <Amount
        v-for="(name, i) in BAND_NAMES"
        :key="name"
        :label="name"
        :value="settings.height.weights[i]!"
        :min="-1"
        :max="3"
        :usual="i === BAND_NAMES.length - 1 ? 0.5 : 1"
        @move="move(height({ weights: at(settings.height.weights, i, $event) }))"
        @change="change(height({ weights: at(settings.height.weights, i, $event) }), 'height')"
      />
      <Amounts
        :values="settings.height"
        :fields="TONE"
        @move="move({ height: $event })"
        @change="change({ height: $event }, 'height')"
      />
    </template>

    <template v-else-if="slotName === 'depth'">
      <Amount
        label="Height scale, % of the tile width"
        :value="settings.depth ?? depth ?? 0.02"
        :min="0.001"
        :max="0.3"
        :usual="0.02"
        :factor="100"
        suffix=" %"
        @move="move({ depth: $event })"
        @change="change({ depth: $event }, 'depth')"
      />
      <p class="soft">
        How high white lies over black, as a share of the tile's width. It decides how steep normals are and how much
        occludes, whatever the resolution of the image.
      </p>
      <button
        v-if="settings.depth !== null"
        type="button"
        class="plain-button"
        @click="change({ depth: null }, 'depth')"
      >
        {{ settings.from === 'normal' ? 'As measured from the normal map' : 'Reset to 2 %' }}
      </button>
    </template>

    <template v-else-if="slotName === 'normal'">
      <Choice
        label="Gradient filter"
        :value="settings.normal.operator"
        :options="OPERATORS"
        @choose="change(normal({ operator: $event }), 'normal')"
      />
      <Choice
        label="Green"
        :value="settings.normal.y"
        :options="[
          { value: 'up', label: 'Y up' },
          { value: 'down', label: 'Y down' },
        ]"
        @choose="change(normal({ y: $event }), 'normal')"
      />
      <h3>Weight by scale</h3>
      <Amount
        v-for="(name, i) in SCALE_NAMES"
        :key="name"
        :label="name"
        :value="settings.normal.scales[i]!"
        :min="0"
        :max="4"
        :usual="i === 0 ? 1 : 0"
        @move="move(normal({ scales: at(settings.normal.scales, i, $event) }))"
        @change="change(normal({ scales: at(settings.normal.scales, i, $event) }), 'normal')"
      />
      <Amounts
        :values="settings.normal"
        :fields="RELIEF"
        @move="move({ normal: $event })"
        @change="change({ normal: $event }, 'normal')"
      />
    </template>

    <template v-else-if="slotName === 'ao'">
      <Amounts
        :values="settings.ao"
        :fields="AO"
        @move="move({ ao: $event })"
        @change="change({ ao: $event }, 'occlusion')"
      />
      <NumberField
        label="Directions"
        :value="settings.ao.slices"
        :min="2"
        :max="64"
        @change="$event && change({ ao: { ...settings.ao, slices: $event } }, 'occlusion')"
      />
    </template>

    <Amounts
      v-else-if="slotName === 'edges'"
      :values="settings.edges"
      :fields="EDGES"
      @move="move({ edges: $event })"
      @change="change({ edges: $event }, 'edges')"
    />

    <Amounts
      v-else-if="slotName === 'cavity'"
      :values="settings.cavity"
      :fields="CAVITY"
      @move="move({ cavity: $event })"
      @change="change({ cavity: $event }, 'cavity')"
    />

    <template v-else-if="slotName === 'displacement'">
      <NumberField
        label="Tile width, mm"
        :value="settings.displacement.tileWidth"
        :min="0.001"
        :max="1000000"
        :digits="3"
        @change="$event && change({ displacement: { ...settings.displacement, tileWidth: $event } }, 'displacement')"
      />
      <Amount
        label="Zero level, 0–1"
        :value="settings.displacement.middle"
        :min="0"
        :max="1"
        :usual="0.5"
        @move="move({ displacement: { ...settings.displacement, middle: $event } })"
        @change="change({ displacement: { ...settings.displacement, middle: $event } }, 'displacement')"
      />
      <p class="soft">Heights come in the unit of the width, as 32-bit floats where they are delivered as such.</p>
    </template>

    <PickedEditor
      v-else-if="picked"
      :picked="settings[picked]"
      :what="picked"
      :alone="alone"
      @move="move({ [picked]: $event })"
      @change="change({ [picked]: $event }, picked)"
      @alone="emit('alone', $event)"
    />
  </div>
</template>

<style scoped>
.profile {
  width: 100%;
  background: var(--paper-raised);
}

.profile polyline {
  fill: none;
  stroke: var(--azurite);
  stroke-width: 1.2;
  vector-effect: non-scaling-stroke;
}

.suggestion {
  padding-left: 8px;
  border-left: 3px solid var(--line);
}
</style>
