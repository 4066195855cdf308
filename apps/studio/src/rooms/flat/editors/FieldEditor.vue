<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref } from 'vue';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { DEFAULT_LAYER, type FieldKind } from '@zographos/core/pattern';
import {
  BLEND_LABELS,
  CELL_MEASURE_LABELS,
  FIELD_LABELS,
  fieldSettings,
  kindOptions,
  NOISE_STYLE_LABELS,
  optionsOf,
  RAMP_WAY_LABELS,
  WRAP_LABELS,
  type FieldSettings,
} from '@zographos/operations';
import CheckLine from '../../../controls/CheckLine.vue';
import Choice from '../../../controls/Choice.vue';
import ColorField from '../../../controls/ColorField.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { limitsOf } from '../../../controls/limits.ts';
import NumberField from '../../../controls/NumberField.vue';
import SizeFields from '../../../controls/SizeFields.vue';
import Amount from '../../../controls/Amount.vue';
import { amountField } from '../../../controls/amountField.ts';
import Amounts from '../../../controls/Amounts.vue';

/** What can be said about a procedural field, slot by slot. */
const props = defineProps<{ settings: FieldSettings; slotName: string }>();
const emit = defineEmits<{ move: [FieldSettings]; change: [FieldSettings, string] }>();

const PATTERNS = optionsOf(FIELD_LABELS);
const STYLES = optionsOf(NOISE_STYLE_LABELS);
const MEASURES = optionsOf(CELL_MEASURE_LABELS);
const DIRECTIONS = optionsOf(RAMP_WAY_LABELS);
const BLENDS = optionsOf(BLEND_LABELS);
const TILINGS = optionsOf(WRAP_LABELS);
/** Each kind can be there once. */
const kindsFor = (map: FieldSettings['maps'][number]) =>
  kindOptions(
    MAP_KIND_IDS.filter((kind) => kind === map.kind || !props.settings.maps.some((other) => other.kind === kind)),
  );

type Layer = FieldSettings['layers'][number];
const move = (part: Partial<FieldSettings>): void => emit('move', { ...props.settings, ...part });
const change = (part: Partial<FieldSettings>, what: string): void =>
  emit('change', { ...props.settings, ...part }, what);

const chosen = ref(0);
const layer = computed(() => props.settings.layers[Math.min(chosen.value, props.settings.layers.length - 1)]!);
const index = computed(() => props.settings.layers.indexOf(layer.value));
const withLayer = (part: Partial<Layer>): Partial<FieldSettings> => ({
  layers: props.settings.layers.map((each, i) => (i === index.value ? { ...each, ...part } : each)),
});

const AMOUNTS = {
  scale: amountField(fieldSettings, 'layers.0.scale', 'Cells across', { slider: [1, 64] }),
  gain: amountField(fieldSettings, 'layers.0.gain', 'Gain'),
  lacunarity: amountField(fieldSettings, 'layers.0.lacunarity', 'Lacunarity'),
  jitter: amountField(fieldSettings, 'layers.0.jitter', 'Jitter'),
  shift: amountField(fieldSettings, 'layers.0.shift', 'Row offset'),
  line: amountField(fieldSettings, 'layers.0.line', 'Joint width', { slider: [0, 0.6] }),
  thickness: amountField(fieldSettings, 'layers.0.thickness', 'Thread width', { slider: [0.05, 1] }),
  bevel: amountField(fieldSettings, 'layers.0.bevel', 'Bevel'),
  variety: amountField(fieldSettings, 'layers.0.variety', 'Tone variation'),
};
const THRESHOLD = [
  amountField(fieldSettings, 'layers.0.threshold.at', 'Value', { usual: 0.5 }),
  amountField(fieldSettings, 'layers.0.threshold.soft', 'Softness', { usual: 0.1 }),
];
const WARP_AMOUNT = amountField(fieldSettings, 'layers.0.warp.amount', 'Warp amount', { slider: [0, 0.3], digits: 3 });
const WARP_SCALE = amountField(fieldSettings, 'layers.0.warp.scale', 'Warp scale', { slider: [1, 32] });
const BLACK_POINT = amountField(fieldSettings, 'layers.0.levels.0', 'Black point', { usual: 0 });
const WHITE_POINT = amountField(fieldSettings, 'layers.0.levels.1', 'White point', { usual: 1 });
const OPACITY = amountField(fieldSettings, 'layers.0.opacity', 'Opacity', { percent: true });
const stopPosition = (usual: number) => amountField(fieldSettings, 'maps.0.ramp.0.at', 'Position, 0–1', { usual });
const SAMPLES = limitsOf(fieldSettings, 'samples');

type CountName = keyof typeof COUNT_WORDS;
const NUMBERS_OF: Record<FieldKind, { amounts: (keyof typeof AMOUNTS)[]; counts: CountName[] }> = {
  'gradient-noise': { amounts: ['scale', 'gain', 'lacunarity'], counts: ['octaves', 'seed'] },
  'simplex-noise': { amounts: ['scale', 'gain', 'lacunarity'], counts: ['octaves', 'seed'] },
  cells: { amounts: ['scale', 'jitter'], counts: ['seed'] },
  cracks: { amounts: ['scale', 'jitter', 'line', 'bevel'], counts: ['seed'] },
  bricks: { amounts: ['shift', 'line', 'bevel', 'variety'], counts: ['columns', 'rows', 'seed'] },
  scales: { amounts: [], counts: ['columns', 'rows'] },
  weave: { amounts: ['thickness'], counts: ['columns', 'rows', 'over'] },
  dots: { amounts: ['thickness', 'shift', 'bevel'], counts: ['columns', 'rows'] },
  grid: { amounts: ['line', 'bevel'], counts: ['columns', 'rows'] },
  gradient: { amounts: [], counts: ['times'] },
};
const COUNT_WORDS = {
  columns: 'Columns',
  rows: 'Rows',
  octaves: 'Octaves',
  over: 'Threads passed over',
  times: 'Repeats',
  seed: 'Seed',
};
const isNoise = computed(() => layer.value.kind.endsWith('noise'));

function add(): void {
  const made = fieldSettings.shape.layers.element.parse({
    ...DEFAULT_LAYER,
    blend: 'multiply',
    seed: props.settings.layers.length + 1,
  });
  chosen.value = props.settings.layers.length;
  change({ layers: [...props.settings.layers, made] }, 'layers');
}

function leaveOut(): void {
  const layers = props.settings.layers.filter((_, i) => i !== index.value);
  chosen.value = Math.max(0, index.value - 1);
  change({ layers }, 'layers');
}

type FieldMap = FieldSettings['maps'][number];
const withMap = (at: number, part: Partial<FieldMap>): Partial<FieldSettings> => ({
  maps: props.settings.maps.map((each, i) => (i === at ? { ...each, ...part } : each)),
});
const USUAL_RAMP = [
  { at: 0, color: '#2e2a24' },
  { at: 1, color: '#d8cfbd' },
];
const withStop = (map: number, stop: number, part: { at?: number; color?: string }): Partial<FieldSettings> =>
  withMap(map, { ramp: props.settings.maps[map]!.ramp!.map((each, i) => (i === stop ? { ...each, ...part } : each)) });

function addMap(): void {
  const usual = ['height', 'basecolor', 'mask'] as const;
  const kind = [...usual, ...MAP_KIND_IDS].find((each) => !props.settings.maps.some((map) => map.kind === each));
  if (kind)
    change({ maps: [...props.settings.maps, { kind, ramp: kind === 'basecolor' ? USUAL_RAMP : null }] }, 'maps');
}
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'layers'">
      <ol class="layers" aria-label="Layers, from the bottom up">
        <li v-for="(each, i) in settings.layers" :key="i">
          <button type="button" :aria-pressed="i === index" @click="chosen = i">
            {{ i + 1 }} {{ FIELD_LABELS[each.kind].label
            }}<span v-if="i > 0" class="soft">
              {{ BLEND_LABELS[each.blend].label }} {{ Math.round(each.opacity * 100) }} %</span
            >
          </button>
        </li>
      </ol>
      <div class="ways">
        <Button label="Add a layer" size="small" outlined @click="add" />
        <Button v-if="settings.layers.length > 1" label="Remove layer" size="small" outlined @click="leaveOut" />
      </div>
      <section>
        <Dropdown
          label="Pattern of the layer"
          :value="layer.kind"
          :options="PATTERNS"
          @choose="change(withLayer({ kind: $event }), 'layer')"
        />
        <Amounts
          :values="layer"
          :fields="NUMBERS_OF[layer.kind].amounts.map((name) => AMOUNTS[name])"
          @move="move(withLayer($event))"
          @change="change(withLayer($event), 'layer')"
        />
        <NumberField
          v-for="name in NUMBERS_OF[layer.kind].counts"
          :key="name"
          :label="COUNT_WORDS[name]"
          :value="layer[name]"
          v-bind="limitsOf(fieldSettings, `layers.0.${name}`)"
          @change="$event !== null && change(withLayer({ [name]: $event }), 'layer')"
        />
        <Choice
          v-if="isNoise"
          label="Style"
          :value="layer.style"
          :options="STYLES"
          @choose="change(withLayer({ style: $event }), 'layer')"
        />
        <Choice
          v-if="layer.kind === 'cells'"
          label="Measure"
          :value="layer.measure"
          :options="MEASURES"
          @choose="change(withLayer({ measure: $event }), 'layer')"
        />
        <Choice
          v-if="layer.kind === 'gradient'"
          label="Direction"
          :value="layer.way"
          :options="DIRECTIONS"
          @choose="change(withLayer({ way: $event }), 'layer')"
        />
        <Amount
          :field="WARP_AMOUNT"
          :value="layer.warp.amount"
          @move="move(withLayer({ warp: { ...layer.warp, amount: $event } }))"
          @change="change(withLayer({ warp: { ...layer.warp, amount: $event } }), 'layer')"
        />
        <Amount
          v-if="layer.warp.amount > 0"
          :field="WARP_SCALE"
          :value="layer.warp.scale"
          @move="move(withLayer({ warp: { ...layer.warp, scale: $event } }))"
          @change="change(withLayer({ warp: { ...layer.warp, scale: $event } }), 'layer')"
        />
        <Amount
          :field="BLACK_POINT"
          :value="layer.levels[0]"
          @move="move(withLayer({ levels: [$event, layer.levels[1]] }))"
          @change="change(withLayer({ levels: [$event, layer.levels[1]] }), 'layer')"
        />
        <Amount
          :field="WHITE_POINT"
          :value="layer.levels[1]"
          @move="move(withLayer({ levels: [layer.levels[0], $event] }))"
          @change="change(withLayer({ levels: [layer.levels[0], $event] }), 'layer')"
        />
        <CheckLine
          label="Threshold"
          :value="layer.threshold !== null"
          @change="change(withLayer({ threshold: $event ? { at: 0.5, soft: 0.1 } : null }), 'layer')"
        />
        <Amounts
          v-if="layer.threshold"
          :values="layer.threshold"
          :fields="THRESHOLD"
          @move="move(withLayer({ threshold: $event }))"
          @change="change(withLayer({ threshold: $event }), 'layer')"
        />
        <CheckLine label="Invert" :value="layer.invert" @change="change(withLayer({ invert: $event }), 'layer')" />
        <template v-if="index > 0">
          <Dropdown
            label="Blend mode"
            :value="layer.blend"
            :options="BLENDS"
            @choose="change(withLayer({ blend: $event }), 'layer')"
          />
          <Amount
            :field="OPACITY"
            :value="layer.opacity"
            @move="move(withLayer({ opacity: $event }))"
            @change="change(withLayer({ opacity: $event }), 'layer')"
          />
        </template>
      </section>
    </template>

    <template v-else-if="slotName === 'wrap'">
      <Dropdown label="Tiling" :value="settings.wrap" :options="TILINGS" @choose="change({ wrap: $event }, 'wrap')" />
      <p class="soft">
        Noise tiles horizontally over a cylinder, and in both directions without distortion over two circles in four
        dimensions. Bricks, weave, dots and grids always tile.
      </p>
    </template>

    <template v-else-if="slotName === 'maps'">
      <section v-for="(map, i) in settings.maps" :key="i">
        <h3>
          <Dropdown
            :label="`Map ${i + 1}`"
            :value="map.kind"
            :options="kindsFor(map)"
            @choose="change(withMap(i, { kind: $event }), 'maps')"
          />
          <button
            v-if="settings.maps.length > 1"
            type="button"
            class="plain-button"
            @click="change({ maps: settings.maps.filter((_, k) => k !== i) }, 'maps')"
          >
            Remove
          </button>
        </h3>
        <CheckLine
          label="Colour ramp"
          :value="map.ramp !== null"
          @change="change(withMap(i, { ramp: $event ? USUAL_RAMP : null }), 'maps')"
        />
        <div v-for="(stop, k) in map.ramp ?? []" :key="k" class="stop">
          <ColorField
            :label="`Colour ${k + 1}`"
            :value="stop.color"
            @move="move(withStop(i, k, { color: $event }))"
            @change="change(withStop(i, k, { color: $event }), 'colours')"
          />
          <Amount
            :field="stopPosition(Math.min(1, k))"
            :value="stop.at"
            @move="move(withStop(i, k, { at: $event }))"
            @change="change(withStop(i, k, { at: $event }), 'colours')"
          />
        </div>
        <button
          v-if="map.ramp"
          type="button"
          class="plain-button"
          @click="change(withMap(i, { ramp: [...map.ramp, { at: 0.5, color: '#808080' }] }), 'colours')"
        >
          Add a colour
        </button>
      </section>
      <Button label="Add a map" size="small" outlined @click="addMap" />
    </template>

    <template v-else-if="slotName === 'size'">
      <SizeFields :size="settings.size" @change="change({ size: $event }, 'size')" />
      <NumberField
        label="Samples per texel, n × n"
        :value="settings.samples"
        v-bind="SAMPLES"
        @change="$event && change({ samples: $event }, 'samples')"
      />
    </template>
  </div>
</template>

<style scoped>
.layers .soft {
  margin-left: 8px;
}

.layers button {
  width: 100%;
  padding: 4px 8px;
  border: 1px solid var(--line);
  background: none;
  color: inherit;
  text-align: left;
}

.layers button[aria-pressed='true'] {
  border-color: var(--azurite);
  background: var(--azurite-wash);
}

.stop {
  display: grid;
  gap: 4px;
}
</style>
