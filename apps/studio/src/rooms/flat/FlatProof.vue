<script setup lang="ts">
import { computed } from 'vue';
import { MOST_LIKENESS, MOST_MIRRORED, SEEN_FROM, warnsAbove, type TileProof } from '@zographos/core/measure';
import { percent } from '../../controls/format.ts';

/** How good a tile is: how much it shows where it was joined, and that it repeats. */
const props = defineProps<{ proof: TileProof | null }>();

interface Row {
  label: string;
  value: string;
  warn: boolean;
  hint: string;
}

const rows = computed((): Row[] => {
  if (!props.proof) return [];
  const { seams, repetition, usual } = props.proof;
  const ofImage = (share: number | undefined): string => (share === undefined ? '' : ` (image: ${percent(share)})`);
  return [
    ...(seams
      ? [
          {
            label: 'Visible seams',
            value: seams.visibility.toFixed(2),
            warn: seams.visibility > SEEN_FROM,
            hint: 'How much of the tile looks like nothing in the image, and how strongly; below 0.5 hardly anything is seen',
          },
        ]
      : []),
    {
      label: 'Mirror symmetry',
      value: percent(repetition.mirrored),
      warn: repetition.mirrored > warnsAbove(MOST_MIRRORED, usual?.mirrored),
      hint: `Highest correlation of the tile with its mirror image${ofImage(usual?.mirrored)}`,
    },
    {
      label: 'Self-similarity',
      value: percent(repetition.likeness),
      warn: repetition.likeness > warnsAbove(MOST_LIKENESS, usual?.likeness),
      hint: `Highest autocorrelation of the shifted tile${ofImage(usual?.likeness)}; below 35 % is inconspicuous`,
    },
    {
      label: 'Noticeable features',
      value: String(repetition.telltales.length),
      warn: false,
      hint: 'Places that catch the eye each time the tile repeats',
    },
  ];
});
</script>

<template>
  <section class="panel proof">
    <h2>Proof</h2>
    <dl v-if="proof">
      <template v-for="{ label, value, warn, hint } in rows" :key="label">
        <dt v-tooltip="hint">{{ label }}</dt>
        <dd :class="{ warn }">{{ value }}</dd>
      </template>
    </dl>
    <p v-else class="soft">Measured once nothing changes.</p>
  </section>
</template>

<style scoped>
.proof dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 12px;
}

.proof dd {
  margin: 0;
  font-weight: 650;
}

.proof dd.warn::before {
  content: '▲ ';
  color: var(--ochre);
}
</style>
