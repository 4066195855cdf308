<script setup lang="ts">
import Button from 'primevue/button';
import { computed, ref } from 'vue';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { DEFAULT_LAYER, hasElements } from '@zographos/core/pattern';
import { FIELD_LABELS, fieldSettings, MAP_CONTENT_LABELS, optionsOf, type FieldSettings } from '@zographos/operations';
import CheckLine from '../../../../controls/CheckLine.vue';
import Choice from '../../../../controls/Choice.vue';
import ColorField from '../../../../controls/ColorField.vue';
import { limitsOf } from '../../../../controls/limits.ts';
import NumberField from '../../../../controls/NumberField.vue';
import SizeFields from '../../../../controls/SizeFields.vue';
import Amount from '../../../../controls/Amount.vue';
import { amountField } from '../../../../controls/amountField.ts';
import { useProject } from '../../../../stores/project.ts';
import { withImage } from '../../imagesOfTicket.ts';
import LayerList from '../LayerList.vue';
import MapHeading from '../MapHeading.vue';
import FieldLayerEditor from './FieldLayerEditor.vue';
import WrapChoice from './WrapChoice.vue';

/** What can be said about a procedural field, slot by slot. */
const props = defineProps<{ settings: FieldSettings; slotName: string; images: string[] }>();
/** With all images of the ticket, where another is put among them. */
const emit = defineEmits<{ move: [FieldSettings]; change: [FieldSettings, string, string[]?] }>();
const store = useProject();
const CONTENTS = optionsOf(MAP_CONTENT_LABELS);
const anyElements = computed(() => props.settings.layers.some(hasElements));

const kinds = computed(() => props.settings.maps.map(({ kind }) => kind));

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

const stopPosition = (usual: number) => amountField(fieldSettings, 'maps.0.ramp.0.at', 'Position, 0–1', { usual });
const SAMPLES = limitsOf(fieldSettings, 'samples');

/** The image that the layer repeats: one of the ticket's, or another of the project that is put among them. */
function useImage(id: string): void {
  const { settings, images } = props;
  const used = store.project && withImage({ pictures: settings.pictures, images }, id, store.project);
  if (!used) return;
  const layers = withLayer({ picture: used.number });
  emit('change', { ...settings, ...layers, pictures: used.pictures }, 'layer', used.images);
}

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
  const kind = [...usual, ...MAP_KIND_IDS].find((each) => !kinds.value.includes(each));
  if (kind)
    change(
      { maps: [...props.settings.maps, { kind, shows: 'values', ramp: kind === 'basecolor' ? USUAL_RAMP : null }] },
      'maps',
    );
}
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'layers'">
      <LayerList
        label="Layers"
        :layers="settings.layers.map((each) => ({ ...each, name: FIELD_LABELS[each.kind].label }))"
        :chosen="index"
        @choose="chosen = $event"
        @add="add"
        @remove="leaveOut"
      />
      <FieldLayerEditor
        :layer="layer"
        :is-lowest="index === 0"
        :images="images"
        @move="move(withLayer($event))"
        @change="change(withLayer($event), 'layer')"
        @image="useImage"
      />
    </template>

    <template v-else-if="slotName === 'wrap'">
      <WrapChoice :wrap="settings.wrap" @choose="change({ wrap: $event }, 'wrap')" />
    </template>

    <template v-else-if="slotName === 'maps'">
      <section v-for="(map, i) in settings.maps" :key="i">
        <MapHeading
          :at="i"
          :kinds="kinds"
          @choose="change(withMap(i, { kind: $event }), 'maps')"
          @remove="change({ maps: settings.maps.filter((_, k) => k !== i) }, 'maps')"
        />
        <Choice
          v-if="anyElements || map.shows === 'elements'"
          label="Shows"
          :value="map.shows"
          :options="CONTENTS"
          @choose="change(withMap(i, { shows: $event }), 'maps')"
        />
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
.stop {
  display: grid;
  gap: 4px;
}
</style>
