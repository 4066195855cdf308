<script setup lang="ts">
import { computed } from 'vue';
import { PATHS } from '@zographos/contracts';
import { describeKind } from '@zographos/core/image';
import { operationOf } from '@zographos/operations';
import { percent } from '../../controls/format.ts';
import { CELL_WORDS, type Cell } from '../../stores/cells.ts';

const props = defineProps<{ cell: Cell }>();
defineEmits<{ look: [] }>();

const picture = computed(() => {
  const { run, map, state } = props.cell;
  // The picture that fills is that of the ticket's first map.
  const { ticket } = props.cell;
  const isFirst = ticket && operationOf(ticket.operation).outputs(ticket.settings)[0] === map.kind;
  if (isFirst && state === 'running' && run && run.previewVersion > 0) {
    return PATHS.preview(run.id, run.previewVersion);
  }
  const [latest] = map.revisions;
  return latest ? PATHS.blob(latest.thumbnailHash) : null;
});
const size = computed(() => {
  const [latest] = props.cell.map.revisions;
  const { width, height } = latest ?? wantedSize() ?? { width: 0, height: 0 };
  if (width === 0) return 'same size as its image';
  return width === height ? `${width} px` : `${width} × ${height} px`;
});
/** The size that a map will have; one that is derived has that of its picture. */
function wantedSize(): { width: number; height: number } | undefined {
  const { ticket, map } = props.cell;
  if (!ticket || ticket.operation === 'derive') return undefined;
  const { settings } = ticket;
  return ('tileSizes' in settings ? settings.tileSizes[map.tile] : undefined) ?? settings.size;
}
const share = computed(() => (props.cell.state === 'running' ? (props.cell.run?.share ?? 0) : 0));
</script>

<template>
  <div
    role="gridcell"
    tabindex="0"
    class="cell"
    :data-state="cell.state"
    :aria-label="`${cell.set.name}${cell.map.layered ? ' finished' : ''}, ${describeKind(cell.map.kind).phrase}, ${size}, ${CELL_WORDS[cell.state]}`"
    @click="$emit('look')"
    @keydown.enter.exact="$emit('look')"
  >
    <div class="picture" :class="{ bare: !picture }">
      <img v-if="picture" :src="picture" alt="" draggable="false" />
      <span v-else-if="cell.state === 'running' || cell.state === 'queued'" class="soft">starting …</span>
      <span v-else class="soft">not made yet</span>
      <span v-if="cell.state === 'running'" class="fill" :style="{ width: `${share * 100}%` }" />
    </div>
    <div class="foot">
      <span class="figure">{{ cell.state === 'running' ? percent(share) : size }}</span>
      <span class="mark" :class="`mark-${cell.state}`"
        ><span>{{ CELL_WORDS[cell.state] }}</span></span
      >
    </div>
    <p v-if="cell.state === 'failed'" class="reason">{{ cell.run?.error?.message }}</p>
  </div>
</template>

<style scoped>
.cell {
  min-width: 0;
  background: var(--paper);
  cursor: pointer;
}

.cell:focus-visible {
  outline-width: 3px;
}

.picture {
  position: relative;
  display: grid;
  place-items: center;
  overflow: hidden;
  aspect-ratio: 1;
  background: var(--surround);
}

.picture.bare {
  border: 1px dashed var(--line-strong);
  background: var(--bench);
}

img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}

.fill {
  position: absolute;
  bottom: 0;
  left: 0;
  height: 4px;
  background: var(--azurite);
}

.foot {
  display: flex;
  justify-content: space-between;
  padding: 5px 8px;
}

.reason {
  padding: 0 8px 8px;
  font-size: var(--text-small);
}
</style>
