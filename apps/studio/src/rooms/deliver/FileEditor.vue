<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import InputText from 'primevue/inputtext';
import { computed } from 'vue';
import { PATHS, type ImageSet } from '@zographos/contracts';
import type { MapKind } from '@zographos/core/image';
import { IMAGE_FORMATS, type ImageFormat } from '@zographos/formats/image-formats';
import { type DeliveredFile, kindOptions, type PackedChannel, packedChannel, packing } from '@zographos/operations';
import CheckLine from '../../controls/CheckLine.vue';
import Dropdown from '../../controls/Dropdown.vue';
import { lengthOf, limitsOf } from '../../controls/limits.ts';
import { mapsInEffect } from '../../stores/mapsInEffect.ts';

/** One file of a profile: a map as it is, or channels packed; each channel is seen before anything is written. */
const props = defineProps<{ file: DeliveredFile; set: ImageSet | undefined }>();
const emit = defineEmits<{ change: [DeliveredFile]; remove: [] }>();

const FORMATS = Object.entries(IMAGE_FORMATS).map(([value, { label }]) => ({ value: value as ImageFormat, label }));
const NAMES = ['R', 'G', 'B', 'A'];
const CHANNELS = [0, 1, 2, 3].map((value) => ({ value, label: NAMES[value]! }));
const CONSTANT = 'constant';
const KINDS = kindOptions();
const SOURCES = [{ value: CONSTANT, label: 'Constant' } as const, ...KINDS];
const COUNTS = [
  { value: 1, label: 'Grey' },
  { value: 3, label: 'RGB' },
  { value: 4, label: 'RGBA' },
];

/** How a value of a channel is entered. */
const FRACTION = {
  ...limitsOf(packedChannel, 'constant'),
  ...({ size: 'small', step: 0.05, maxFractionDigits: 4 } as const),
};

const channels = computed(() => ('channels' in props.file ? props.file.channels : null));
const thumbnail = (kind: MapKind): string | null => {
  const revision = mapsInEffect(props.set?.maps ?? []).find((map) => map.kind === kind)?.revisions[0];
  return revision ? PATHS.blob(revision.thumbnailHash) : null;
};

const withChannel = (at: number, channel: PackedChannel): void => {
  if (!('channels' in props.file)) return;
  emit('change', { ...props.file, channels: props.file.channels.map((each, i) => (i === at ? channel : each)) });
};

function source(at: number, name: MapKind | typeof CONSTANT): void {
  withChannel(at, name === CONSTANT ? { constant: 0 } : { map: name, channel: 0, invert: false, levels: [0, 1] });
}

function setCount(wanted: number): void {
  if (!('channels' in props.file)) return;
  const list = Array.from(
    { length: wanted },
    (_, i): PackedChannel => channels.value![i] ?? { constant: i === 3 ? 1 : 0 },
  );
  emit('change', { ...props.file, channels: list });
}
</script>

<template>
  <li class="file">
    <div class="head">
      <InputText
        size="small"
        :model-value="file.label"
        :maxlength="lengthOf(packing, 'label')"
        aria-label="What stands for {map} in its name"
        @change="emit('change', { ...file, label: ($event.target as HTMLInputElement).value.trim() || file.label })"
      />
      <Dropdown
        v-if="'map' in file"
        label="Map"
        :value="file.map"
        :options="KINDS"
        @choose="emit('change', { ...file, map: $event } as DeliveredFile)"
      />
      <Dropdown v-else label="Channels" :value="file.channels.length" :options="COUNTS" @choose="setCount" />
      <Dropdown
        label="Format"
        :value="file.format"
        :options="FORMATS"
        @choose="emit('change', { ...file, format: $event })"
      />
      <button type="button" class="plain-button" @click="emit('remove')">Remove file</button>
    </div>
    <div v-if="channels" class="channels">
      <div v-for="(channel, i) in channels" :key="i" class="channel">
        <strong>{{ channels.length === 1 ? 'Grey' : NAMES[i] }}</strong>
        <span class="picture">
          <img
            v-if="'map' in channel && thumbnail(channel.map)"
            :src="thumbnail(channel.map)!"
            :class="{ inverted: channel.invert }"
            alt=""
          />
          <span v-else-if="'constant' in channel" :style="{ background: `oklch(${channel.constant} 0 0)` }" />
          <span v-else v-tooltip="'The set has no such map; its neutral value is written'" class="missing">–</span>
        </span>
        <Dropdown
          :label="`What ${NAMES[i]} holds`"
          :value="'map' in channel ? channel.map : CONSTANT"
          :options="SOURCES"
          @choose="source(i, $event)"
        />
        <template v-if="'map' in channel">
          <Dropdown
            :label="`Channel for ${NAMES[i]}`"
            :value="channel.channel"
            :options="CHANNELS"
            @choose="withChannel(i, { ...channel, channel: $event })"
          />
          <CheckLine label="Invert" :value="channel.invert" @change="withChannel(i, { ...channel, invert: $event })" />
          <label class="levels"
            >Levels
            <InputNumber
              v-bind="FRACTION"
              :model-value="channel.levels[0]"
              :aria-label="`Black of ${NAMES[i]}`"
              @update:model-value="withChannel(i, { ...channel, levels: [$event ?? 0, channel.levels[1]] })" />
            <InputNumber
              v-bind="FRACTION"
              :model-value="channel.levels[1]"
              :aria-label="`White of ${NAMES[i]}`"
              @update:model-value="withChannel(i, { ...channel, levels: [channel.levels[0], $event ?? 1] })"
          /></label>
        </template>
        <InputNumber
          v-else
          v-bind="FRACTION"
          :model-value="channel.constant"
          :aria-label="`Number in ${NAMES[i]}`"
          @update:model-value="withChannel(i, { constant: $event ?? 0 })"
        />
      </div>
    </div>
  </li>
</template>

<style scoped>
.file {
  display: grid;
  gap: 6px;
  padding: 8px 0;
  border-top: 1px solid var(--line);
}

.head,
.channel {
  gap: 8px;
  align-items: center;
}

.head {
  display: flex;
}

.head button {
  margin-left: auto;
}

.channel {
  display: grid;
  grid-template-columns: 32px 32px 150px 60px 84px auto;
  padding-left: 10px;
}

.levels {
  display: flex;
  gap: 6px;
  align-items: center;
}

.picture,
.picture > * {
  display: grid;
  place-items: center;
  width: 32px;
  height: 32px;
  background: var(--surround);
}

.picture img {
  filter: none;
  object-fit: cover;
}

.picture img.inverted {
  filter: invert(1);
}

.channel :deep(.p-inputnumber-input) {
  width: 58px;
}
</style>
