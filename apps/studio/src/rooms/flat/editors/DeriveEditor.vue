<script setup lang="ts">
import { computed } from 'vue';
import {
  BAND_WIDTHS,
  DEFAULT_TONE_HEIGHT,
  DERIVED_KINDS,
  PICKED_KINDS,
  type DerivedKind,
  type HeightSuggestion,
  type PickedKind,
} from '@zographos/core/derive';
import { describeKind } from '@zographos/core/image';
import {
  DERIVE_SOURCE_LABELS,
  deriveSettings,
  optionsOf,
  SLOPE_OPERATOR_LABELS,
  TONE_WAY_LABELS,
  type DeriveSettings,
} from '@zographos/operations';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import { limitsOf } from '../../../controls/limits.ts';
import NumberField from '../../../controls/NumberField.vue';
import ChannelPicker from '../../../ticket/ChannelPicker.vue';
import Amount from '../../../controls/Amount.vue';
import { amountField } from '../../../controls/amountField.ts';
import Amounts from '../../../controls/Amounts.vue';
import PickedEditor from './PickedEditor.vue';

/** What can be said about maps that are derived, slot by slot. */
const props = defineProps<{
  settings: DeriveSettings;
  /** What it is derived from. */
  image: string | undefined;
  slotName: string;
  suggestion: HeightSuggestion | null;
  /** Heights along the middle of the tile. */
  profile: Float32Array | null;
  depth: number | null;
  alone: number | null;
}>();
const emit = defineEmits<{ move: [DeriveSettings]; change: [DeriveSettings, string]; alone: [number | null] }>();

const picking = defineModel<boolean>('picking', { required: true });

type Part = Partial<DeriveSettings>;
const move = (part: Part): void => emit('move', { ...props.settings, ...part });
const change = (part: Part, what: string): void => emit('change', { ...props.settings, ...part }, what);

const SOURCES = optionsOf(DERIVE_SOURCE_LABELS);
const TONE_WAYS = optionsOf(TONE_WAY_LABELS);
const OPERATORS = optionsOf(SLOPE_OPERATOR_LABELS);
const SCALE_NAMES = ['1 px', '1/256 of the tile', '1/64 of the tile', '1/16 of the tile'];
/** Sizes of detail in the world, as the tile is so wide there. */
const bandNames = computed(() => {
  const sizes = BAND_WIDTHS.map((width) => `${+(width * props.settings.displacement.tileWidth).toPrecision(2)} mm`);
  return [
    `Finer than ${sizes[0]}`,
    ...sizes.slice(1).map((size, i) => `${sizes[i]} to ${size}`),
    `Larger than ${sizes.at(-1)}`,
  ];
});

const PERCENT = { percent: true, digits: 2 };
const AO = [
  amountField(deriveSettings, 'ao.reach', 'Max. distance, % of the tile width', { ...PERCENT, slider: [0.005, 0.3] }),
];
const EDGES = [
  amountField(deriveSettings, 'edges.radius', 'Radius shown as white', { ...PERCENT, slider: [0.001, 0.2] }),
  amountField(deriveSettings, 'edges.width', 'Smoothing radius', { ...PERCENT, slider: [0, 0.05] }),
];
const CAVITY = [
  amountField(deriveSettings, 'cavity.width', 'Radius', { ...PERCENT, slider: [0.002, 0.2] }),
  amountField(deriveSettings, 'cavity.strength', 'Strength', { slider: [0, 10] }),
];
const TONE = [
  amountField(deriveSettings, 'height.contrast', 'Contrast'),
  amountField(deriveSettings, 'height.bias', 'Offset', { slider: [-0.5, 0.5] }),
];
const RELIEF = [
  amountField(deriveSettings, 'normal.sharpen', 'Sharpen', { slider: [0, 4] }),
  amountField(deriveSettings, 'normal.denoise', 'Denoise'),
];
const STEEPNESS = amountField(deriveSettings, 'steepness', 'Steepest slopes', { suffix: '°', slider: [5, 75] });
const DEPTH = amountField(deriveSettings, 'depth', 'Height scale, % of the tile width', {
  ...PERCENT,
  slider: [0.001, 0.1],
  usual: 0.02,
});
const DEPTH_MM = limitsOf(deriveSettings, 'depth');
/** What decides how high white lies over black. */
const DEPTH_WAYS = computed(() => [
  { value: 'measured', label: props.settings.from === 'normal' ? 'From the normal map' : 'By steepness' },
  { value: 'set', label: 'By height' },
]);
const shownDepth = computed(() => props.settings.depth ?? props.depth);
const millimetres = computed(() => (shownDepth.value ?? 0) * props.settings.displacement.tileWidth);
function chooseDepth(way: string): void {
  change({ depth: way === 'set' ? (props.depth ?? DEPTH.usual) : null }, 'depth');
}
const bandFields = computed(() =>
  bandNames.value.map((name, i) =>
    amountField(deriveSettings, 'height.weights.0', name, {
      slider: [-1, 3],
      usual: DEFAULT_TONE_HEIGHT.weights[i]!,
    }),
  ),
);
const SCALE_FIELDS = SCALE_NAMES.map((name, i) =>
  amountField(deriveSettings, 'normal.scales.0', name, { usual: i === 0 ? 1 : 0 }),
);
const SLICES = limitsOf(deriveSettings, 'ao.slices');
const TILE_WIDTH = limitsOf(deriveSettings, 'displacement.tileWidth');
const MIDDLE = amountField(deriveSettings, 'displacement.middle', 'Zero level, 0–1');

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
      <ChannelPicker
        v-if="image"
        :image-id="image"
        :pick="settings.picture.pick"
        @choose="change({ picture: { ...settings.picture, pick: $event } }, 'channels of the image')"
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
        v-for="(field, i) in bandFields"
        :key="field.label"
        :field="field"
        :value="settings.height.weights[i]!"
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
      <Choice
        label="Height scale"
        :value="settings.depth === null ? 'measured' : 'set'"
        :options="DEPTH_WAYS"
        @choose="chooseDepth"
      />
      <template v-if="settings.depth === null">
        <Amount
          v-if="settings.from !== 'normal'"
          :field="STEEPNESS"
          :value="settings.steepness"
          @move="move({ steepness: $event })"
          @change="change({ steepness: $event }, 'steepness')"
        />
        <p v-if="depth !== null" class="soft">
          White lies {{ millimetres.toFixed(1) }} mm over black, {{ (depth * 100).toFixed(2) }} % of the tile width.
        </p>
      </template>
      <template v-else>
        <Amount
          :field="DEPTH"
          :value="settings.depth"
          @move="move({ depth: $event })"
          @change="change({ depth: $event }, 'depth')"
        />
        <NumberField
          label="Height, mm"
          :value="millimetres"
          :min="0.001"
          :max="(DEPTH_MM.max ?? 4) * settings.displacement.tileWidth"
          :digits="3"
          @change="$event && change({ depth: $event / settings.displacement.tileWidth }, 'depth')"
        />
      </template>
      <NumberField
        label="Tile width, mm"
        :value="settings.displacement.tileWidth"
        v-bind="TILE_WIDTH"
        :digits="3"
        @change="$event && change({ displacement: { ...settings.displacement, tileWidth: $event } }, 'tile width')"
      />
      <p class="soft">
        It decides how steep normals are and how much occludes, whatever the resolution of the image. By steepness, only
        one place in fifty is steeper.
      </p>
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
        v-for="(field, i) in SCALE_FIELDS"
        :key="field.label"
        :field="field"
        :value="settings.normal.scales[i]!"
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
        v-bind="SLICES"
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
        v-bind="TILE_WIDTH"
        :digits="3"
        @change="$event && change({ displacement: { ...settings.displacement, tileWidth: $event } }, 'displacement')"
      />
      <Amount
        :field="MIDDLE"
        :value="settings.displacement.middle"
        @move="move({ displacement: { ...settings.displacement, middle: $event } })"
        @change="change({ displacement: { ...settings.displacement, middle: $event } }, 'displacement')"
      />
      <p class="soft">Heights come in the unit of the width, as 32-bit floats where they are delivered as such.</p>
    </template>

    <PickedEditor
      v-else-if="picked"
      v-model:picking="picking"
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
