<script setup lang="ts">
import Button from 'primevue/button';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { LAYER_CHANNELS } from '@zographos/core/layers';
import { describeKind } from '@zographos/core/image';
import { PATHS, type ImageSet } from '@zographos/contracts';
import { useNotices } from '../../../stores/notices.ts';
import { useProject } from '../../../stores/project.ts';
import { newStack } from '../adding/newLayers.ts';

/** The image sets that layers can be laid on. */
const props = defineProps<{ projectId: string; sets: readonly ImageSet[] }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();

const bakedOf = (set: ImageSet) =>
  set.maps.filter(({ layered, revisions }) => !layered && revisions[0]).map(({ kind }) => kind);

const offers = computed(() =>
  props.sets.map((set) => {
    const made = set.maps.filter(({ revisions }) => revisions[0]);
    const face = made.find(({ kind }) => kind === 'basecolor') ?? made[0];
    return {
      set,
      face: face ? PATHS.blob(face.revisions[0]!.thumbnailHash) : null,
      maps: [...new Set(made.map(({ kind }) => describeKind(kind).phrase))].join(', ') || 'no map yet',
    };
  }),
);

async function begin(set: ImageSet): Promise<void> {
  const newest = set.maps.flatMap(({ revisions }) => revisions.slice(0, 1));
  const largest = newest.reduce((most, each) => (each.width > most.width ? each : most), { width: 1024, height: 1024 });
  const baked = bakedOf(set);
  // What other layers are going to paint over is no ground.
  const ground = LAYER_CHANNELS.filter((channel) => (baked as readonly string[]).includes(channel));
  const ticket = await notices.guard(() =>
    store.createTicket({
      name: `${set.name}, layers`,
      operation: 'layers',
      settings: newStack({ width: largest.width, height: largest.height }, ground),
      inputs: { receivers: [], sources: [] },
      set: { id: set.id },
    }),
  );
  if (ticket) await router.push({ name: 'layers', params: { projectId: props.projectId, setId: set.id } });
}
</script>

<template>
  <section class="panel chooser">
    <h2>Lay layers on an image set</h2>
    <p v-if="sets.length === 0">
      There is no image set yet. Bake maps of a mesh in <RouterLink :to="{ name: 'bake' }">Bake</RouterLink>, or make a
      tiling material in <RouterLink :to="{ name: 'flat' }">Flat</RouterLink>.
    </p>
    <ul>
      <li v-for="{ set, face, maps } in offers" :key="set.id">
        <img v-if="face" :src="face" alt="" />
        <span v-else class="bare" />
        <span class="what">
          <strong>{{ set.name }}</strong>
          <span class="soft">{{ set.receiverId === null ? 'tiling material' : 'on a mesh' }} · {{ maps }}</span>
        </span>
        <Button label="Lay layers" size="small" :aria-label="`Lay layers on ${set.name}`" @click="begin(set)" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.chooser {
  overflow: auto;
}

ul {
  display: grid;
  gap: 6px;
  max-width: 720px;
}

li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
}

img,
.bare {
  width: 56px;
  height: 56px;
  border: 1px solid var(--line);
  object-fit: cover;
}

.what {
  display: grid;
}
</style>
