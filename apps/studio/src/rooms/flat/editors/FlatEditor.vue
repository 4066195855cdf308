<script setup lang="ts">
import { computed } from 'vue';
import { DERIVED_KINDS, type HeightSuggestion } from '@zographos/core/derive';
import type { MapKind } from '@zographos/core/image';
import type { TileProof } from '@zographos/core/measure';
import type { FlatTicket, ImageSet, Run } from '@zographos/contracts';
import type { FlatReport } from '@zographos/operations';
import AdjustEditor from './AdjustEditor.vue';
import CombineEditor from './combine/CombineEditor.vue';
import CutoutsEditor from './CutoutsEditor.vue';
import DeriveEditor from './DeriveEditor.vue';
import FieldEditor from './field/FieldEditor.vue';
import { flatSlotTitle } from './flatEditors.ts';
import SeamlessEditor from './SeamlessEditor.vue';

/** What can be said about a step of flat material, one slot at a time, whatever its operation is. */
const props = defineProps<{
  ticket: FlatTicket;
  /** As they are being moved. */
  settings: FlatTicket['settings'];
  set: ImageSet;
  kinds: MapKind[];
  kind: MapKind | undefined;
  run: Run | undefined;
  proof: TileProof | null;
  suggestion: HeightSuggestion | null;
  /** Heights along the middle row. */
  profile: Float32Array | null;
  depth: number | null;
}>();
/** With all images of the ticket, where others are among them. */
const emit = defineEmits<{
  move: [FlatTicket['settings']];
  change: [FlatTicket['settings'], string, string[]?];
  kind: [MapKind];
}>();
const slotName = defineModel<string>('slotName', { required: true });
const brush = defineModel<number>('brush', { required: true });
const sourceOf = defineModel<number | null>('sourceOf', { required: true });
const picking = defineModel<boolean>('picking', { required: true });
const alone = defineModel<number | null>('alone', { required: true });

/** Operation and settings belong together in a ticket. */
type Moved = {
  [Each in FlatTicket as Each['operation']]: Pick<Each, 'operation' | 'settings'>;
}[FlatTicket['operation']];
const step = computed(() => ({ operation: props.ticket.operation, settings: props.settings }) as Moved);
const images = computed(() => props.ticket.inputs.pictures ?? []);

/** Slots beside those of the sentence. */
const further = computed((): string[] => {
  const own = props.ticket;
  if (own.operation !== 'derive') return ['adjust'];
  const { maps } = own.settings;
  return [...DERIVED_KINDS.filter((each) => each !== 'height' && maps.includes(each)), 'adjust'];
});
const cutouts = computed(() => (props.run?.state === 'done' ? (props.run.report as FlatReport).cutouts : null));
const ownMaps = computed(() =>
  props.set.maps.filter(({ ticketId }) => ticketId === props.ticket.id).map(({ id }) => id),
);
const move = (next: FlatTicket['settings']): void => emit('move', next);
const change = (next: FlatTicket['settings'], what: string, pictures?: string[]): void =>
  emit('change', next, what, pictures);
</script>

<template>
  <section class="panel">
    <div class="tabs chips" role="group" aria-label="Further settings">
      <button
        v-for="name in further"
        :key="name"
        type="button"
        :aria-pressed="slotName === name"
        @click="slotName = name"
      >
        {{ flatSlotTitle(ticket.operation, name) }}
      </button>
    </div>
    <h2>{{ flatSlotTitle(ticket.operation, slotName) }}</h2>
    <AdjustEditor
      v-if="slotName === 'adjust'"
      :adjust="settings.adjust"
      :kinds="kinds"
      :kind="kind"
      @move="move({ ...settings, adjust: $event } as FlatTicket['settings'])"
      @change="change({ ...settings, adjust: $event } as FlatTicket['settings'], 'adjustments')"
    />
    <SeamlessEditor
      v-else-if="step.operation === 'seamless'"
      v-model:brush="brush"
      v-model:source-of="sourceOf"
      :settings="step.settings"
      :slot-name="slotName"
      :images="images"
      :seams="proof?.seams?.places ?? null"
      @move="move"
      @change="change"
    />
    <DeriveEditor
      v-else-if="step.operation === 'derive'"
      v-model:picking="picking"
      :settings="step.settings"
      :image="images[0]"
      :slot-name="slotName"
      :suggestion="suggestion"
      :profile="profile"
      :depth="depth"
      :alone="alone"
      @move="move"
      @change="change"
      @alone="alone = $event"
    />
    <CutoutsEditor
      v-else-if="step.operation === 'cutouts'"
      :settings="step.settings"
      :slot-name="slotName"
      :images="images"
      :report="cutouts"
      @move="move"
      @change="change"
    />
    <CombineEditor
      v-else-if="step.operation === 'combine'"
      :settings="step.settings"
      :slot-name="slotName"
      :images="images"
      :kind="kind"
      :own="ownMaps"
      @move="move"
      @change="change"
      @kind="emit('kind', $event)"
    />
    <FieldEditor
      v-else
      :settings="step.settings"
      :slot-name="slotName"
      :images="images"
      @move="move"
      @change="change"
    />
  </section>
</template>

<style scoped>
.chips {
  margin: -4px -6px 6px;
}
</style>
