<script setup lang="ts">
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { ENDPOINTS, PATHS, type Finish, type ImageAsset, type ImageSet } from '@zographos/contracts';
import { phraseOfKinds } from '@zographos/core/image';
import { DEFAULT_TILE, ownSize } from '@zographos/core/seamless';
import type { Size } from '@zographos/core/math';
import { mapSize, meaningsOfPacking, parseSettings, type PictureMeaning } from '@zographos/operations';
import { call } from '../../api/call.ts';
import { count } from '../../controls/format.ts';
import { limitsOf } from '../../controls/limits.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { madeMaps, meaningOfImage, meaningOfMap } from './imagesOfTicket.ts';

/** Where flat material begins: a picture, a set of pictures, a field, or a finish from the library. */
const props = defineProps<{ projectId: string }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();

/** As many maps as a ticket takes. */
const MOST_MAPS = 16;
const chosen = ref<string[]>([]);
const pictures = computed(() => store.images);
const finishes = ref<Finish[]>([]);
const search = ref('');
const found = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
  return finishes.value.filter(({ name, tags }) =>
    words.every((word) => [name, ...tags].join(' ').toLowerCase().includes(word)),
  );
});

onMounted(async () => {
  finishes.value = (await notices.guard(() => call(ENDPOINTS.listFinishes, {}))) ?? [];
});

/** What an image holds: one map, or those that share its channels. */
function mapsOf(image: ImageAsset): { id: string; meaning: PictureMeaning }[] {
  const { id, packing } = image;
  if (!packing) return [{ id, meaning: meaningOfImage(image) }];
  return meaningsOfPacking(packing, image).map((meaning) => ({ id, meaning }));
}

function toggle({ id }: ImageAsset): void {
  chosen.value = chosen.value.includes(id) ? chosen.value.filter((each) => each !== id) : [...chosen.value, id];
}

/** Begins a material of a first ticket, and opens it. */
async function begin(ticket: Parameters<typeof store.createTicket>[0]): Promise<void> {
  const made = await notices.guard(() => store.createTicket(ticket));
  if (made) await router.push({ name: 'flat', params: { projectId: props.projectId, setId: made.imageSetId } });
}

/** Makes a tile of images or maps, all cut alike. @param size of the first */
function tileOf(name: string, size: Size, made: readonly { id: string; meaning: PictureMeaning }[]): Promise<void> {
  return begin({
    name: `${name}, tile`,
    operation: 'seamless',
    settings: parseSettings('seamless', {
      pictures: made.map(({ meaning }) => meaning),
      size: ownSize(size, DEFAULT_TILE),
    }),
    inputs: { receivers: [], sources: [], pictures: made.map(({ id }) => id) },
    set: { name },
  });
}

const chosenImages = (): ImageAsset[] => chosen.value.map((id) => pictures.value.find((each) => each.id === id)!);
const plainName = (name: string): string => name.replace(/[_ -]?(colou?r|basecolor|photo)$/i, '') || name;

async function fromPictures(): Promise<void> {
  const images = chosenImages();
  const [first] = images;
  if (first) await tileOf(plainName(first.name), first.inspection, images.flatMap(mapsOf));
}

/** Maps of images and their channels, without packing them into files. */
async function combined(): Promise<void> {
  const images = chosenImages();
  const [first] = images;
  if (!first) return;
  const { width, height } = first.inspection;
  await begin({
    name: `${first.name}, combined`,
    operation: 'combine',
    settings: parseSettings('combine', {
      pictures: images.map(meaningOfImage),
      maps: [{ kind: 'basecolor' }],
      // Photographs seldom tile.
      repeats: images.every(({ imageKind }) => imageKind !== 'image'),
      size: { width: within(width), height: within(height) },
    }),
    inputs: { receivers: [], sources: [], pictures: images.map(({ id }) => id) },
    set: { name: `${plainName(first.name)} combined` },
  });
}

/** What stands alone in images with alpha, in an atlas. */
async function cutOut(): Promise<void> {
  const made = chosenImages().map((image) => ({ id: image.id, meaning: meaningOfImage(image), image }));
  const each = [...new Map(made.map((one) => [one.meaning.kind, one])).values()];
  const [first] = each;
  if (!first) return;
  await begin({
    name: `${first.image.name}, cut-outs`,
    operation: 'cutouts',
    settings: parseSettings('cutouts', {
      pictures: each.map(({ meaning }) => meaning),
      size: { width: 1024, height: 1024 },
    }),
    inputs: { receivers: [], sources: [], pictures: each.map(({ id }) => id) },
    set: { name: `${plainName(first.image.name)} cut-outs` },
  });
}

const SIDE = { least: limitsOf(mapSize, 'width').min ?? 1, most: limitsOf(mapSize, 'width').max ?? Infinity };
const within = (side: number): number => Math.max(SIDE.least, Math.min(SIDE.most, side));

/** Sets of one tile whose maps are there: baked, derived, finished or brought in. */
const sets = computed(() =>
  (store.project?.imageSets ?? []).filter((set) => !set.lit && set.tiles.length <= 1 && madeMaps(set).length > 0),
);
const faceOf = (set: ImageSet): string => {
  const maps = madeMaps(set);
  return PATHS.blob((maps.find(({ kind }) => kind === 'basecolor') ?? maps[0]!).revisions[0]!.thumbnailHash);
};
const fromSet = (set: ImageSet): Promise<void> => {
  // Each kind once, whatever made it.
  const maps = [...new Map(madeMaps(set).map((map) => [map.kind, map])).values()];
  return tileOf(
    `${set.name} tile`,
    maps[0]!.revisions[0]!,
    maps.slice(0, MOST_MAPS).map((map) => ({ id: map.id, meaning: meaningOfMap(map) })),
  );
};

const fromField = (): Promise<void> =>
  begin({
    name: 'Field',
    operation: 'field',
    settings: parseSettings('field', {
      layers: [{ kind: 'gradient-noise' }],
      size: { width: 1024, height: 1024 },
    }),
    inputs: { receivers: [], sources: [] },
    set: { name: 'Field' },
  });

async function bringIn(finish: Finish): Promise<void> {
  const made = await notices.guard(() => call(ENDPOINTS.useFinish, { id: props.projectId, finishId: finish.id }));
  if (!made) return;
  await store.reload();
  await router.push({ name: 'flat', params: { projectId: props.projectId, setId: made.imageSetId } });
}

async function remove(finish: Finish): Promise<void> {
  await notices.guard(() => call(ENDPOINTS.deleteFinish, { id: finish.id }).then(() => true));
  finishes.value = finishes.value.filter(({ id }) => id !== finish.id);
}
</script>

<template>
  <div class="chooser">
    <section class="panel">
      <h2>From images</h2>
      <p v-if="pictures.length === 0" class="soft">
        Drop a photograph anywhere on this page, or all maps of a set. It becomes a tile that repeats.
      </p>
      <template v-else>
        <p class="soft">Choose a photograph, or all maps of one set: they are cut alike.</p>
        <ul class="pictures">
          <li v-for="image in pictures" :key="image.id">
            <button type="button" :aria-pressed="chosen.includes(image.id)" @click="toggle(image)">
              <img :src="PATHS.blob(image.thumbnailHash)" alt="" />
              <span>{{ image.name }}</span>
              <span class="soft"
                >{{ phraseOfKinds(mapsOf(image).map(({ meaning }) => meaning.kind)) }}, {{ image.inspection.width }} ×
                {{ image.inspection.height }}</span
              >
            </button>
          </li>
        </ul>
        <div class="ways">
          <Button label="Make a tile" :disabled="chosen.length === 0" @click="fromPictures" />
          <Button label="Combine into maps" outlined :disabled="chosen.length === 0" @click="combined" />
          <Button label="Pack cut-outs" outlined :disabled="chosen.length === 0" @click="cutOut" />
        </div>
      </template>
    </section>
    <section v-if="sets.length > 0" class="panel">
      <h2>From an image set</h2>
      <p class="soft">All maps of a set become tiles by one plan: baked, derived, finished or imported ones.</p>
      <ul class="pictures">
        <li v-for="each in sets" :key="each.id">
          <img :src="faceOf(each)" alt="" />
          <span>{{ each.name }}</span>
          <span class="soft">{{ count(madeMaps(each).length, 'map') }}</span>
          <span class="ways">
            <button type="button" class="plain-button" @click="fromSet(each)">Make a tile</button>
          </span>
        </li>
      </ul>
    </section>
    <section class="panel">
      <h2>Procedural texture</h2>
      <p class="soft">
        Noise, folds, grunge, scratches, fibres, bricks, planks, scales, weave, images and more, at any resolution.
      </p>
      <Button label="New procedural texture" @click="fromField" />
    </section>
    <section class="panel">
      <h2>Finishes</h2>
      <p v-if="finishes.length === 0" class="soft">
        None yet. “Save as finish” makes a tiling material available to other projects.
      </p>
      <template v-else>
        <InputText v-model="search" size="small" placeholder="name or tag" aria-label="Search finishes" />
        <ul class="pictures">
          <li v-for="finish in found" :key="finish.id">
            <img
              :src="PATHS.blob((finish.maps.find(({ kind }) => kind === 'basecolor') ?? finish.maps[0]!).thumbnailHash)"
              alt=""
            />
            <span>{{ finish.name }}</span>
            <span class="soft"
              >{{ count(finish.maps.length, 'map')
              }}<template v-if="finish.tileWidth">, {{ finish.tileWidth }} mm</template
              ><template v-if="finish.tags.length">, {{ finish.tags.join(', ') }}</template></span
            >
            <span class="ways">
              <button type="button" class="plain-button" @click="bringIn(finish)">Add to project</button>
              <button type="button" class="plain-button" @click="remove(finish)">Delete</button>
            </span>
          </li>
        </ul>
      </template>
    </section>
  </div>
</template>

<style scoped>
.chooser {
  display: grid;
  gap: 12px;
  align-content: start;
  overflow: auto;
}

.chooser .panel {
  display: grid;
  gap: 10px;
  justify-items: start;
}

.pictures {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 10px;
  width: 100%;
}

.pictures button:first-child,
.pictures li {
  display: grid;
  gap: 2px;
  width: 100%;
  text-align: left;
}

.pictures li > button {
  padding: 6px;
  border: 2px solid transparent;
  background: none;
  color: inherit;
  cursor: pointer;
}

.pictures li > button[aria-pressed='true'] {
  border-color: var(--azurite);
}

.pictures img {
  width: 100%;
  height: 120px;
  background: var(--surround);
  object-fit: contain;
}
</style>
