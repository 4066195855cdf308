<script setup lang="ts">
import { computed } from 'vue';
import { describeKind, type ChannelPick } from '@zographos/core/image';
import { cutoutsSettings, percentText, type CutoutsSettings, type FlatReport } from '@zographos/operations';
import { amountField } from '../../../controls/amountField.ts';
import Amounts from '../../../controls/Amounts.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { count, jsonLink } from '../../../controls/format.ts';
import { limitsOf } from '../../../controls/limits.ts';
import NumberField from '../../../controls/NumberField.vue';
import SizeFields from '../../../controls/SizeFields.vue';
import { useProject } from '../../../stores/project.ts';
import ChannelPicker from '../../../ticket/ChannelPicker.vue';

/** What can be said about cut-outs, slot by slot. */
const props = defineProps<{
  settings: CutoutsSettings;
  slotName: string;
  images: string[];
  /** Where they lie, once they are made. */
  report: FlatReport['cutouts'];
}>();
const emit = defineEmits<{ move: [CutoutsSettings]; change: [CutoutsSettings, string] }>();
const store = useProject();

const change = (part: Partial<CutoutsSettings>, what: string): void =>
  emit('change', { ...props.settings, ...part }, what);

const AMOUNTS = [
  amountField(cutoutsSettings, 'threshold', 'Threshold', { percent: true, slider: [0, 0.9] }),
  amountField(cutoutsSettings, 'least', 'Smallest, of the image', { percent: true, slider: [0, 0.02], digits: 2 }),
];
const GUTTER = limitsOf(cutoutsSettings, 'gutter');
/** What is opaque, as it is found unless something else is chosen. */
const FOUND = 'found';
const masks = computed(() => [
  { value: FOUND, label: 'Opacity or alpha, as found' },
  ...props.images.map((id) => ({ value: id, label: store.pictureName(id) })),
]);
const maskId = computed(() => (props.settings.mask ? (props.images[props.settings.mask.image] ?? FOUND) : FOUND));
function chooseMask(id: string): void {
  const image = props.images.indexOf(id);
  change({ mask: image < 0 ? null : { image, pick: null } }, 'mask');
}
const setPick = (pick: ChannelPick | undefined): void =>
  change({ mask: { ...props.settings.mask!, pick: pick ?? null } }, 'mask');
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'pictures'">
      <p v-for="(id, i) in images" :key="id">
        <strong>{{ store.pictureName(id) }}</strong>
        <span class="soft"> {{ describeKind(settings.pictures[i]?.kind ?? 'basecolor').phrase }}</span>
      </p>
      <p class="soft">All of them are cut out alike, and packed to the same places.</p>
    </template>

    <template v-else-if="slotName === 'mask'">
      <Dropdown label="What is opaque" :value="maskId" :options="masks" @choose="chooseMask" />
      <ChannelPicker
        v-if="settings.mask && images[settings.mask.image]"
        :image-id="images[settings.mask.image]!"
        :pick="settings.mask.pick ?? undefined"
        @choose="setPick"
      />
      <Amounts
        :values="settings"
        :fields="AMOUNTS"
        @move="emit('move', $event)"
        @change="emit('change', $event, 'mask')"
      />
      <p class="soft">
        Regions that touch are one cut-out. Colours go on beyond their edges, so that no background shows around them.
      </p>
      <p v-if="report" role="status">
        {{ count(report.places.length, 'cut-out')
        }}{{ report.scale < 1 ? `, reduced to ${percentText(report.scale)} so that all fit` : '' }}
        <a class="plain-button" :href="jsonLink(report)" download="cut-outs.json">Save the table</a>
      </p>
    </template>

    <template v-else-if="slotName === 'size'">
      <SizeFields :size="settings.size" @change="change({ size: $event }, 'size')" />
      <NumberField
        label="Gutter, px"
        :value="settings.gutter"
        v-bind="GUTTER"
        @change="$event !== null && change({ gutter: $event }, 'gutter')"
      />
    </template>
  </div>
</template>
