<script setup lang="ts">
import { computed } from 'vue';
import type { ImageAsset } from '@zographos/contracts';
import {
  CHANNEL_NAMES,
  describeKind,
  MAP_KIND_IDS,
  type ImagePacking,
  type PackedContent,
} from '@zographos/core/image';
import CheckLine from '../../controls/CheckLine.vue';
import PropertySelect from './PropertySelect.vue';

/** Whether an image is one map, or several that share its channels; and which channel holds what, to be corrected. */
const props = defineProps<{ image: ImageAsset }>();
const emit = defineEmits<{ change: [what: string, packing: ImagePacking | null] }>();

const CONTENTS = [
  { value: 'one', label: 'One map' },
  { value: 'packed', label: 'Packed channels' },
] as const;
const NOTHING = 'nothing';
/** Whatever may stand in one channel: a grey map, or one channel of a map of three. */
const OPTIONS = [
  { value: NOTHING, label: 'Not used' },
  ...MAP_KIND_IDS.filter((kind) => !describeKind(kind).isVague).flatMap((kind) => {
    const { label, channels } = describeKind(kind);
    if (channels === 1) return [{ value: `${kind} 0`, label }];
    return [0, 1, 2].map((c) => ({ value: `${kind} ${c}`, label: `${label}, ${CHANNEL_NAMES[c]!.toLowerCase()}` }));
  }),
];

const names = computed(() => {
  const { channels } = props.image.inspection;
  return channels < 3 ? ['Grey', 'Alpha'].slice(0, channels) : CHANNEL_NAMES.slice(0, channels);
});
const valueOf = (content: PackedContent | null | undefined): string =>
  content ? `${content.map} ${content.channel}` : NOTHING;

const setPacked = (isPacked: boolean): void => {
  const { guess, channels } = props.image.inspection;
  emit('change', 'content', isPacked ? (guess.packing ?? Array.from({ length: channels }, () => null)) : null);
};

function set(at: number, content: PackedContent | null): void {
  emit(
    'change',
    `${names.value[at]!.toLowerCase()} channel`,
    names.value.map((_, c) => (c === at ? content : (props.image.packing?.[c] ?? null))),
  );
}

function choose(at: number, value: string): void {
  const [map, channel] = value.split(' ');
  const kind = MAP_KIND_IDS.find((each) => each === map);
  set(at, kind ? { map: kind, channel: Number(channel), invert: false } : null);
}
</script>

<template>
  <PropertySelect
    label="Content"
    :value="image.packing ? 'packed' : 'one'"
    :options="CONTENTS"
    @change="setPacked($event === 'packed')"
  />
  <template v-if="image.packing">
    <template v-for="(name, c) in names" :key="name">
      <PropertySelect :label="name" :value="valueOf(image.packing[c])" :options="OPTIONS" @change="choose(c, $event)" />
      <template v-if="image.packing[c]">
        <dt class="unseen">{{ name }} inverted</dt>
        <dd class="inverted">
          <CheckLine
            label="Inverted (1 − value)"
            :value="image.packing[c].invert"
            @change="set(c, { ...image.packing[c]!, invert: $event })"
          />
        </dd>
      </template>
    </template>
  </template>
</template>

<style scoped>
.inverted {
  grid-column: 2;
}
</style>
