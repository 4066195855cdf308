<script setup lang="ts">
import { computed, ref } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import SlotEditor from './bake/SlotEditor.vue';
import SentenceSlots from './SentenceSlots.vue';
import { useProject } from '../stores/project.ts';

const props = defineProps<{ ticket: BakeTicket }>();
const store = useProject();
const folded = ref(true);

const CURVATURE_WORDS = { both: 'ridges and hollows', convex: 'ridges', concave: 'hollows' } as const;
const ID_WORDS = {
  slot: 'material slots',
  object: 'objects',
  part: 'connected parts',
  color: 'vertex colours',
} as const;
const DIRECTION_WORDS = {
  smooth: 'smooth normals',
  split: 'own normals',
  blend: 'normals, smooth at hard edges',
} as const;
const BACK_WORDS = { ignore: 'go on', accept: 'count as hits', flip: 'count as hits, turned over' } as const;

const parts = computed(() => store.sentenceOf(props.ticket));
const pictured = computed(() => Object.keys(props.ticket.settings.pictures));
const uvSetName = computed(
  () =>
    store.meshById(props.ticket.inputs.receivers[0]!)?.inspection.uvSets[props.ticket.settings.uvSet] ??
    `number ${props.ticket.settings.uvSet + 1}`,
);
</script>

<template>
  <SentenceSlots :parts="parts">
    <template #default="{ slotName }"><SlotEditor :ticket="ticket" :slot-name="slotName" /></template>
    <template #behind="{ edit }">
      <p v-if="!folded" class="sentence further">
        The map lies on <button type="button" class="slot" @click="edit('uvSet', $event)">{{ uvSetName }}</button> of
        the receiver,
        <button type="button" class="slot" @click="edit('tiles', $event)">
          {{
            ticket.settings.tiles === 'all' ? 'in all its tiles' : `in tile ${ticket.settings.tiles.join(', ')}`
          }}</button>; it sees
        <button type="button" class="slot" @click="edit('match', $event)">
          {{ ticket.settings.match === 'all' ? 'all sources' : 'sources of its name' }}</button>,
        <button type="button" class="slot" @click="edit('repeat', $event)">
          {{ ticket.settings.repeat === 'none' ? 'not repeated' : `repeated (${ticket.settings.repeat.grid})` }}
        </button>
        and
        <button type="button" class="slot" @click="edit('scale', $event)">
          {{
            ticket.settings.sourceScale === 1 ? 'in their own size' : `${ticket.settings.sourceScale} times their size`
          }}</button>. Rays go along its
        <button type="button" class="slot" @click="edit('direction', $event)">
          {{ DIRECTION_WORDS[ticket.settings.direction] }}</button>, and those that meet the source from behind
        <button type="button" class="slot" @click="edit('backFaces', $event)">
          {{ BACK_WORDS[ticket.settings.backFaces] }}</button>. They start at
        <button type="button" class="slot" @click="edit('cage', $event)">
          {{ ticket.inputs.cage ? 'a cage of your own' : 'their reach' }}</button>. Its maps come from
        <button type="button" class="slot" @click="edit('pictures', $event)">
          {{ pictured.length ? `pictures (${pictured.join(', ')})` : 'the source itself' }}</button>.
        <template v-if="ticket.settings.maps.includes('height')">
          Heights in whole numbers span
          <button type="button" class="slot" @click="edit('height', $event)">
            {{
              ticket.settings.height.span === 'auto'
                ? 'as much as is needed'
                : `${ticket.settings.height.span} ${store.meshById(ticket.inputs.receivers[0]!)?.unit ?? ''}`
            }}</button>.
        </template>
        <template v-if="ticket.settings.maps.includes('gradient')">
          The gradient grows along
          <button type="button" class="slot" @click="edit('gradient', $event)">
            {{ ticket.settings.gradient.join(' ') }}</button>.
        </template>
        <template v-if="ticket.settings.maps.includes('curvature')">
          Curvature shows
          <button type="button" class="slot" @click="edit('curvature', $event)">
            {{ CURVATURE_WORDS[ticket.settings.curvature.show] }}</button>.
        </template>
        <template v-if="ticket.settings.maps.includes('id')">
          ID colours tell apart
          <button type="button" class="slot" @click="edit('id', $event)">{{ ID_WORDS[ticket.settings.id] }}</button>.
        </template>
      </p>
      <button type="button" class="plain-button fold" :aria-expanded="!folded" @click="folded = !folded">
        {{ folded ? 'More settings' : 'Fewer settings' }}
      </button>
    </template>
  </SentenceSlots>
</template>

<style scoped>
.further {
  margin-top: 2px;
  font-size: 15px;
}

.fold {
  padding-left: 0;
  color: var(--ink-soft);
}
</style>
