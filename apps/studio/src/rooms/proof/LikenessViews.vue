<script setup lang="ts">
import type { BakeReport } from '@zographos/operations';

/** The source and the receiver with its maps from several sides, and where they differ. */
defineProps<{ views: BakeReport['likeness']; picture: string | null }>();

const COLUMNS = ['Source', 'Receiver with its maps', 'Difference'] as const;
</script>

<template>
  <div class="views">
    <figure v-for="(view, row) in views" :key="row">
      <div class="triple" role="img" :aria-label="`View ${row + 1}: ${COLUMNS.join(', ')}`">
        <span
          v-for="(name, column) in COLUMNS"
          :key="name"
          :style="
            picture
              ? {
                  backgroundImage: `url(${picture})`,
                  backgroundSize: `300% ${views.length * 100}%`,
                  backgroundPosition: `${column * 50}% ${views.length > 1 ? (row / (views.length - 1)) * 100 : 0}%`,
                }
              : {}
          "
        />
      </div>
      <figcaption>
        <span>Source</span><span>With its maps</span
        ><span
          >Difference; similarity <b class="figure">{{ view.ssim.toFixed(3) }}</b></span
        >
      </figcaption>
    </figure>
  </div>
</template>

<style scoped>
.views {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  align-content: start;
  overflow: auto;
  padding: 10px;
  background: var(--surround);
}

figure {
  margin: 0;
  background: var(--paper);
}

.triple,
figcaption {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 2px;
}

.triple span {
  aspect-ratio: 1;
  background-color: var(--surround);
}

figcaption {
  padding: 2px 8px;
  font-size: var(--text-small);
}
</style>
