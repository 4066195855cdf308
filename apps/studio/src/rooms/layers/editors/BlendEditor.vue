<script setup lang="ts">
import { computed } from 'vue';
import { BLENDED_CHANNELS, channelsOf, type Layer } from '@zographos/core/layers';
import { HEIGHT_BLEND_LABELS, LAYER_BLEND_LABELS, NORMAL_BLEND_LABELS, optionsOf } from '@zographos/operations';
import { describeKind } from '@zographos/core/image';
import Amount from '../../../controls/Amount.vue';
import Choice from '../../../controls/Choice.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { SHARE } from './layerFields.ts';

/** How a layer mixes with what lies beneath. */
const props = defineProps<{ layer: Layer }>();
const emit = defineEmits<{ move: [Layer]; change: [Layer] }>();
const BLENDS = optionsOf(LAYER_BLEND_LABELS);
const HEIGHTS = optionsOf(HEIGHT_BLEND_LABELS);
const NORMALS = optionsOf(NORMAL_BLEND_LABELS);
const written = computed(() => channelsOf(props.layer));
/** Channels that may have a blend mode of their own. */
const single = computed(() => BLENDED_CHANNELS.filter((each) => written.value.includes(each)));
const blendOf = (channel: (typeof single.value)[number]) => props.layer.blends[channel] ?? props.layer.blend;
</script>

<template>
  <Amount
    :field="SHARE('opacity', 'Opacity')"
    :value="layer.opacity"
    @move="emit('move', { ...layer, opacity: $event })"
    @change="emit('change', { ...layer, opacity: $event })"
  />
  <template v-if="layer.content !== 'group'">
    <label class="line"
      >Blend mode
      <Dropdown
        label="Blend mode"
        :value="layer.blend"
        :options="BLENDS"
        @choose="emit('change', { ...layer, blend: $event, blends: {} })"
      />
    </label>
    <label v-for="channel in single.length > 1 ? single : []" :key="channel" class="line soft"
      >{{ describeKind(channel).label }}
      <Dropdown
        :label="`Blend mode of ${describeKind(channel).phrase}`"
        :value="blendOf(channel)"
        :options="BLENDS"
        @choose="emit('change', { ...layer, blends: { ...layer.blends, [channel]: $event } })"
      />
    </label>
    <label v-if="written.includes('height')" class="line"
      >Height
      <Dropdown
        label="Height"
        :value="layer.heightBlend"
        :options="HEIGHTS"
        @choose="emit('change', { ...layer, heightBlend: $event })"
      />
    </label>
    <Choice
      v-if="written.includes('normal')"
      label="Normals"
      :value="layer.normalBlend"
      :options="NORMALS"
      @choose="emit('change', { ...layer, normalBlend: $event })"
    />
  </template>
</template>

<style scoped>
.line {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
}
</style>
