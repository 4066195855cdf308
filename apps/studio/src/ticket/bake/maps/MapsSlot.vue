<script setup lang="ts">
import { computed } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import { describeKind, inUsualOrder, MAP_KIND_IDS, type MapKind } from '@zographos/core/image';
import { kindOptions } from '@zographos/operations';
import OptionList from '../../OptionList.vue';
import { useTicketChange } from '../../useTicketChange.ts';

/** Which maps a bake makes; those that cannot be baked are there while an image gives them. */
const props = defineProps<{ ticket: BakeTicket }>();
const { change } = useTicketChange(() => props.ticket);

const options = computed(() =>
  kindOptions(MAP_KIND_IDS.filter((kind) => describeKind(kind).isBaked || props.ticket.settings.pictures[kind])).map(
    ({ hint, ...option }) => ({ ...option, note: hint }),
  ),
);

/** Kinds stay in their usual order, and one always stays. */
function setMaps(chosen: MapKind[]): void {
  if (chosen.length > 0) change('maps', { maps: inUsualOrder(chosen) });
}
</script>

<template>
  <div class="editor">
    <h3>Maps</h3>
    <OptionList label="Maps" :values="ticket.settings.maps" :options="options" :height="340" @choose="setMaps" />
  </div>
</template>
