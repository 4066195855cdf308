<script setup lang="ts">
import { computed } from 'vue';
import { isDirection, type MapKind } from '@zographos/core/image';
import {
  COMBINE_MASK_LABELS,
  combineSettings,
  LAYER_BLEND_LABELS,
  MATCH_LABELS,
  NORMAL_BLEND_LABELS,
  optionsOf,
  type CombineSettings,
} from '@zographos/operations';
import Amount from '../../../../controls/Amount.vue';
import { amountField } from '../../../../controls/amountField.ts';
import Choice from '../../../../controls/Choice.vue';
import Dropdown from '../../../../controls/Dropdown.vue';
import SourceFields from './SourceFields.vue';

/** One layer of a map that is combined. */
type Layer = CombineSettings['maps'][number]['layers'][number];
type Mask = NonNullable<Layer['mask']>;
type HeightMask = Extract<Mask, { by: 'height' }>;
const props = defineProps<{
  layer: Layer;
  kind: MapKind;
  /** The lowest lies on nothing that it could be blended with. */
  isLowest: boolean;
  images: string[];
  choices: { value: string; label: string }[];
}>();
/** `image` asks for an image by its id; what is told of its number is the change. */
const emit = defineEmits<{
  move: [Partial<Layer>];
  change: [Partial<Layer>];
  image: [string, (image: number) => Partial<Layer>];
}>();

const BLENDS = optionsOf(LAYER_BLEND_LABELS);
const NORMAL_BLENDS = optionsOf(NORMAL_BLEND_LABELS);
const MATCHES = optionsOf(MATCH_LABELS);
const MASKS = optionsOf(COMBINE_MASK_LABELS);
const OPACITY = amountField(combineSettings, 'maps.0.layers.0.opacity', 'Opacity', { percent: true });
const MATCH_AMOUNT = amountField(combineSettings, 'maps.0.layers.0.match.amount', 'Match', { percent: true });
const RAISE = amountField(combineSettings, 'maps.0.layers.0.mask.raise', 'Raise', { digits: 3 });
const SOFTNESS = amountField(combineSettings, 'maps.0.layers.0.mask.softness', 'Softness', { digits: 3 });

const NOTHING = 'none';
const matchChoices = computed(() => [{ value: NOTHING, label: 'No other image' }, ...props.choices]);
const NEW_SOURCE = { image: 0, pick: null, adjust: [] };
const maskBy = computed(() => props.layer.mask?.by ?? 'everywhere');
const heightMask = computed(() => (props.layer.mask?.by === 'height' ? props.layer.mask : null));
const withHeight = (part: Partial<HeightMask>): Partial<Layer> => ({ mask: { ...heightMask.value!, ...part } });

function chooseMask(by: 'everywhere' | 'image' | 'height'): void {
  if (by === maskBy.value) return;
  const { image } = props.layer;
  const masks: Record<typeof by, Layer['mask']> = {
    everywhere: null,
    image: { by: 'image', ...NEW_SOURCE },
    height: { by: 'height', own: { ...NEW_SOURCE, image }, below: NEW_SOURCE, raise: 0, softness: 0.1 },
  };
  emit('change', { mask: masks[by] });
}

function chooseMatch(id: string): void {
  if (id === NOTHING) emit('change', { match: null });
  else emit('image', id, (image) => ({ match: { way: 'histogram', amount: 1, ...props.layer.match, image } }));
}
</script>

<template>
  <section>
    <SourceFields
      label="Image"
      :source="layer"
      :images="images"
      :choices="choices"
      @move="emit('move', $event)"
      @change="emit('change', $event)"
      @image="emit('image', $event, (image) => ({ image }))"
    />
  </section>
  <section>
    <label class="labelled">
      <span>Match the tones of</span>
      <Dropdown
        label="Match the tones of"
        :value="layer.match ? (images[layer.match.image] ?? null) : NOTHING"
        :options="matchChoices"
        @choose="chooseMatch"
      />
    </label>
    <template v-if="layer.match">
      <Choice
        label="How tones are matched"
        :value="layer.match.way"
        :options="MATCHES"
        @choose="emit('change', { match: { ...layer.match, way: $event } })"
      />
      <Amount
        :field="MATCH_AMOUNT"
        :value="layer.match.amount"
        @move="emit('move', { match: { ...layer.match, amount: $event } })"
        @change="emit('change', { match: { ...layer.match, amount: $event } })"
      />
    </template>
  </section>
  <section v-if="!isLowest">
    <Choice
      v-if="isDirection(kind)"
      label="How normals lie over others"
      :value="layer.normalBlend"
      :options="NORMAL_BLENDS"
      @choose="emit('change', { normalBlend: $event })"
    />
    <Dropdown
      v-else
      label="Blend mode"
      :value="layer.blend"
      :options="BLENDS"
      @choose="emit('change', { blend: $event })"
    />
    <Amount
      :field="OPACITY"
      :value="layer.opacity"
      @move="emit('move', { opacity: $event })"
      @change="emit('change', { opacity: $event })"
    />
    <Choice label="Where it is seen" :value="maskBy" :options="MASKS" @choose="chooseMask" />
    <SourceFields
      v-if="layer.mask?.by === 'image'"
      label="Mask"
      :source="layer.mask"
      :images="images"
      :choices="choices"
      @move="emit('move', { mask: { ...layer.mask, ...$event } })"
      @change="emit('change', { mask: { ...layer.mask, ...$event } })"
      @image="emit('image', $event, (image) => ({ mask: { ...(layer.mask as Mask & { by: 'image' }), image } }))"
    />
    <template v-else-if="heightMask">
      <Amount
        :field="RAISE"
        :value="heightMask.raise"
        @move="emit('move', withHeight({ raise: $event }))"
        @change="emit('change', withHeight({ raise: $event }))"
      />
      <Amount
        :field="SOFTNESS"
        :value="heightMask.softness"
        @move="emit('move', withHeight({ softness: $event }))"
        @change="emit('change', withHeight({ softness: $event }))"
      />
      <SourceFields
        v-for="[part, label] in [
          ['own', 'Height of this layer'],
          ['below', 'Height below'],
        ] as const"
        :key="part"
        :label="label"
        :source="heightMask[part]"
        :images="images"
        :choices="choices"
        @move="emit('move', withHeight({ [part]: { ...heightMask[part], ...$event } }))"
        @change="emit('change', withHeight({ [part]: { ...heightMask[part], ...$event } }))"
        @image="emit('image', $event, (image) => withHeight({ [part]: { ...heightMask![part], image } }))"
      />
    </template>
  </section>
</template>

<style scoped>
.labelled {
  display: grid;
  gap: 2px;
}
</style>
