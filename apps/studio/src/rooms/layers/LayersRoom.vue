<script setup lang="ts">
import Button from 'primevue/button';
import { useEventListener } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { MapKind } from '@zographos/core/image';
import { tilingOf } from '@zographos/core/layers';
import { PATHS, type ImageSet } from '@zographos/contracts';
import { percent } from '../../controls/format.ts';
import { isTyping } from '../../controls/isTyping.ts';
import Dropdown from '../../controls/Dropdown.vue';
import { CELL_WORDS, useCells } from '../../stores/cells.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import SentenceSlots from '../../ticket/SentenceSlots.vue';
import AddLayer from './adding/AddLayer.vue';
import ChosenLayer from './stack/ChosenLayer.vue';
import StackSlot from './editors/StackSlot.vue';
import LayersMap from './views/LayersMap.vue';
import LayersModel from './views/LayersModel.vue';
import { MASK_KIND } from './views/layerTextures.ts';
import { paintedLayer, tilingPaint, type NewLayer } from './adding/newLayers.ts';
import { PLAIN_PICTURE, type ModelView, type PenPoint } from './painting/pen.ts';
import PenPanel from './painting/PenPanel.vue';
import { usePainting } from './painting/usePainting.ts';
import type { FoundPlace, HistogramOf, SectionLine } from './preview/layersMessages.ts';
import { useLayersPreview } from './preview/useLayersPreview.ts';
import ReferenceBoard from './references/ReferenceBoard.vue';
import { withPickedColor } from './references/withPickedColor.ts';
import SectionList from './section/SectionList.vue';
import { changed } from './stack/stackEdits.ts';
import StackChooser from './stack/StackChooser.vue';
import { useAdding } from './adding/useAdding.ts';
import { useCoatings } from './adding/useCoatings.ts';
import { useLayeredFiles } from './adding/useLayeredFiles.ts';
import { usePlacing } from './placing/usePlacing.ts';
import { useReceivers } from './useReceivers.ts';
import { useStack } from './stack/useStack.ts';

const props = defineProps<{ projectId: string; setId?: string }>();
const store = useProject();
const notices = useNotices();
const router = useRouter();
const { cells } = useCells();

const sets = computed(() => store.project?.imageSets ?? []);
/** Those that have layers already. */
const layeredSets = computed(() =>
  sets.value.filter(({ id }) => store.stacks.some((stack) => stack.imageSetId === id)),
);
const set = computed((): ImageSet | undefined =>
  props.setId === 'new'
    ? undefined
    : (layeredSets.value.find(({ id }) => id === props.setId) ?? (props.setId ? undefined : layeredSets.value[0])),
);
const ticket = computed(() => store.stacks.find(({ imageSetId }) => imageSetId === set.value?.id));
const setOptions = computed(() => [
  ...layeredSets.value.map(({ id, name }) => ({ value: id, label: name })),
  { value: 'new', label: 'Another image set …' },
]);

const stack = useStack(ticket);
const { settings, layers, chosen, chosenId, changeLayers } = stack;
const surface = useReceivers(ticket);
const { receivers, extent, inMillimetres } = surface;
const slotName = ref<string | null>(null);
watch(chosenId, () => (slotName.value = null));

const side = ref(512);
const SIDES = [256, 512, 1024, 2048].map((value) => ({ value, label: `${value} px` }));
const alone = ref<MapKind | null>(null);
const section = shallowRef<SectionLine | null>(null);
const model = ref<ModelView | null>(null);
/** Held: the stack without the chosen layer. */
const isBefore = ref(false);
const shown = computed(() => {
  const own = settings.value;
  if (!own || !isBefore.value || !chosen.value) return own;
  return { ...own, layers: changed(own.layers, chosen.value.id, (layer) => ({ ...layer, visible: false })) };
});
/** Only a mask that is looked at is made. */
const maskOf = computed(() => (alone.value === MASK_KIND ? (chosen.value?.id ?? null) : null));

/** What a histogram is shown of, while levels can be set. */
const histogramOf = computed((): HistogramOf | null => {
  if (!chosen.value || slotName.value === null || isPainting.value) return null;
  if (slotName.value === 'mask') return { layer: chosen.value.id, of: 'mask' };
  return chosen.value.content === 'adjustment' ? { layer: chosen.value.id, of: 'beneath' } : null;
});

const painting = usePainting({
  projectId: () => props.projectId,
  layers,
  chosen,
  extent: computed(() => extent.value.size),
  view: () => model.value?.stencilView() ?? null,
  show: stack.showLayers,
  keep: changeLayers,
});
const { isOn: isPainting, pen, underPen, cloneSource } = painting;

/** Paints into the chosen layer, or into a new one where it cannot be painted. */
async function paint(): Promise<void> {
  if (painting.target.value === null) await add(paintedLayer());
  isPainting.value = !isPainting.value;
  if (isPainting.value) slotName.value = painting.target.value === 'content' ? 'content' : 'mask';
}

const penAt = ({ place, ...rest }: PenPoint): void => painting.goOn({ ...rest, place: inMillimetres(place) });
const pictures = stack.pictures.chosen;

/** The stencil on the brush, if one is. */
const stencil = computed(() => {
  const { picture } = pen.value.brush;
  if (!isPainting.value || picture?.lies !== 'view') return null;
  const image = store.images.find(({ id }) => id === pictures.value[picture.picture]?.id);
  return image ? { thumbnail: image.thumbnailHash, aspect: stack.pictures.aspectOf(image.id) } : null;
});

async function putOnBrush(id: string): Promise<void> {
  const { number, change } = stack.pictures.use(id);
  await changeLayers([...layers.value], 'image of the brush', change.part, change.pictures);
  const before = pen.value.brush.picture ?? PLAIN_PICTURE;
  pen.value = { ...pen.value, brush: { ...pen.value.brush, picture: { ...before, picture: number } } };
}

async function paintMaterial(id: string): Promise<void> {
  const flat = materials.value.find((each) => each.id === id);
  if (!flat) return;
  const { number, part } = stack.materialOf(flat);
  await changeLayers([...layers.value], 'material of the brush', part);
  const usual = tilingPaint(flat);
  const before = tilingOf(pen.value) ?? usual;
  pen.value = { ...pen.value, paint: { tiling: { ...before, channels: usual.channels, material: number } } };
}

/** Told of clicks in the map, and of the pen there. */
function onFound(found: FoundPlace): void {
  if (found.pressure === null) placement.pick(found);
  else painting.goOn({ place: found.place, normal: found.normal, pressure: found.pressure });
}

const preview: ReturnType<typeof useLayersPreview> = useLayersPreview({
  ticket,
  settings: shown,
  ...{ side, maskOf, section, histogramOf, pen: underPen },
  onTriangle: onFound,
  onFaces: (faces) => placement.takeFaces(faces),
});
const placement = usePlacing({
  ...{ stack, triangles: surface.triangles },
  findFaces: preview.findFaces,
  growFaces: preview.growFaces,
  lassoFaces: preview.lassoFaces,
});
const { isLasso } = placement;
const { tiles, problems, strata, milliseconds, busy, problem, findTriangle, findTriangleDone } = preview;
const problemsById = computed(() => new Map(problems.value.map(({ id, message }) => [id, message])));
/** Whether maps are missing that a run would bake. */
const canBake = computed(() => problems.value.some(({ message }) => message.includes('not made yet')));

const coatings = useCoatings();
const adding = useAdding({
  ...{ stack, set, surface, coatings },
  middle: () => {
    const middle = model.value?.middle();
    return middle ? { ...middle, triangle: 0, place: inMillimetres(middle.place) } : null;
  },
});
const { offers, materials } = adding;
async function showOffers(): Promise<void> {
  // The list is seen first.
  await new Promise((resolve) => setTimeout(resolve));
  preview.showOffers(await adding.offered());
}
const layeredFiles = useLayeredFiles(() => props.projectId, stack);
const guides = computed(() => {
  const own = settings.value;
  if (!own || receivers.value.length === 0) return [];
  const meshes = receivers.value.map(({ id }) => id);
  return tiles.value.map(({ tile }) => {
    const guide = (format: 'ora' | 'psd'): string =>
      PATHS.guide({
        ...{ meshes, uvSets: meshes.map(() => own.uvSet), size: own.size, tile, format, set: set.value?.id },
        ...{ fill: true, inner: true, legend: false },
      });
    return { tile, ora: guide('ora'), psd: guide('psd') };
  });
});

async function add(offer: NewLayer): Promise<void> {
  const at = await adding.add(offer);
  if (at === null) return;
  slotName.value = at === 'content' ? 'place' : 'mask';
  placement.placing.value = at;
}

/** What is seen beside the model. */
const beside = ref<'map' | 'references'>('map');
const BESIDE = [
  { value: 'map', label: 'Map' },
  { value: 'references', label: 'References' },
] as const;

/** A colour picked from a reference: of the pen while painting, of the chosen layer otherwise. */
function takeColor({ color, last }: { color: string; last: boolean }): void {
  if (isPainting.value) {
    const { paint: laid } = pen.value;
    const kept = tilingOf(pen.value) ? {} : laid;
    if (!('grey' in laid)) pen.value = { ...pen.value, paint: { ...kept, basecolor: color } };
    else
      notices.say('error', 'A mask is painted with mask values, not with colours. Choose a painted layer to use it.');
    return;
  }
  const next = chosen.value && withPickedColor(chosen.value, color, last);
  if (next) void stack.changeLayer(next, 'picked colour');
  else notices.say('error', 'The chosen layer has no colour of its own. Choose a plain layer, a field, or paint.');
}

const stackParts = computed(() =>
  ticket.value && settings.value ? store.sentenceOf({ ...ticket.value, settings: settings.value }) : [],
);
const more = computed(() =>
  ticket.value && settings.value ? store.moreSentencesOf({ ...ticket.value, settings: settings.value }) : [],
);
const isFolded = ref(true);

const cell = computed(() => cells.value.find(({ map }) => map.ticketId === ticket.value?.id));
const run = computed(() => (ticket.value ? store.latestRunOf(ticket.value.id) : undefined));
const isRunning = computed(() => run.value?.state === 'running' || run.value?.state === 'queued');

async function runNow(): Promise<void> {
  if (ticket.value) await notices.guard(() => store.runTicket(ticket.value!.id));
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event)) return;
  if (event.ctrlKey && event.key === 'Enter') void runNow();
  else if (event.key === 'b' && !event.ctrlKey) isBefore.value = true;
});
useEventListener(document, 'keyup', (event: KeyboardEvent) => {
  if (event.key === 'b') isBefore.value = false;
});

async function open(id: string): Promise<void> {
  await router.push({ name: 'layers', params: { projectId: props.projectId, setId: id } });
}
</script>

<template>
  <main class="layers">
    <StackChooser v-if="!set || !ticket || !settings" :project-id="projectId" :sets="sets" class="wide" />
    <template v-else>
      <section class="panel ticket" aria-label="Ticket">
        <SentenceSlots :parts="stackParts" :more="isFolded ? [] : more">
          <template #default="{ slotName: name }">
            <StackSlot :slot-name="name" :settings="settings" @change="stack.setPart($event, name)" />
          </template>
          <template #behind>
            <button type="button" class="plain-button fold" :aria-expanded="!isFolded" @click="isFolded = !isFolded">
              {{ isFolded ? 'More settings' : 'Fewer settings' }}
            </button>
          </template>
        </SentenceSlots>
        <div class="act">
          <Button
            :label="isRunning ? `Running, ${percent(run?.share ?? 0)}` : 'Run now'"
            :disabled="isRunning || layers.length === 0"
            @click="runNow"
          />
          <Button v-if="isRunning" label="Cancel" outlined @click="notices.guard(() => store.cancelRun(run!.id))" />
          <span v-else-if="cell" class="mark" :class="`mark-${cell.state}`"
            ><span>{{ CELL_WORDS[cell.state] }}</span></span
          >
        </div>
        <p v-if="cell?.state === 'failed'" class="failed" role="alert">{{ run?.error?.message }}</p>
      </section>

      <section class="stage" aria-label="Preview">
        <div class="views">
          <LayersModel
            ref="model"
            v-model:alone="alone"
            :receivers="receivers"
            :uv-set="settings.uvSet"
            :tiles="tiles"
            :name="set.name"
            :painting="isPainting"
            :lasso="isLasso"
            :pen="pen"
            :stencil="stencil"
            :unit="settings.unit"
            @line="section = $event"
            @pick="preview.findFacts({ ...$event, place: inMillimetres($event.place), pressure: null })"
            @lasso="placement.pickWithin"
            @source="cloneSource = inMillimetres($event.place)"
            @pen-down="painting.begin"
            @pen-at="penAt"
            @pen-up="painting.end()"
          />
          <div class="beside">
            <LayersMap
              v-if="beside === 'map'"
              :tiles="tiles"
              :alone="alone"
              :name="set.name"
              :painting="isPainting"
              :lasso="isLasso"
              :pen="pen"
              @lasso="placement.pickWithin"
              @pick="findTriangle"
              @pen-down="painting.begin"
              @pen-up="findTriangleDone(painting.end)"
            />
            <ReferenceBoard v-else :set="set" @color="takeColor" />
            <div class="choices which" role="group" aria-label="Beside the model">
              <button
                v-for="{ value, label } in BESIDE"
                :key="value"
                type="button"
                :aria-pressed="beside === value"
                @click="beside = value"
              >
                {{ label }}
              </button>
            </div>
          </div>
        </div>
        <p class="foot">
          <Dropdown label="Image set" :value="set.id" :options="setOptions" @choose="open" />
          <Dropdown label="Size of the preview" :value="side" :options="SIDES" @choose="side = $event" />
          <Button :label="isPainting ? 'Stop painting' : 'Paint'" :outlined="!isPainting" size="small" @click="paint" />
          <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
          <span v-else-if="milliseconds === null" class="soft">Preparing the preview …</span>
          <span v-else class="soft">Preview made in {{ Math.round(milliseconds) }} ms</span>
          <span v-if="busy" class="soft">working …</span>
          <button v-if="canBake" type="button" class="plain-button" @click="runNow">Bake missing maps and run</button>
          <span class="soft keys"><kbd>B</kbd> hold: without the chosen layer</span>
        </p>
      </section>

      <aside class="figures" :class="{ editing: slotName }">
        <section class="panel strata">
          <h2>
            <span>{{ receivers.length > 0 ? 'Section from A to B' : 'Layers' }}</span>
            <AddLayer
              :layers="offers"
              :coatings="coatings.coatings.value"
              :guides="guides"
              :pictures="preview.offers.value"
              @open="showOffers"
              @add="add"
              @lay="adding.layCoating(projectId, $event)"
              @remove="coatings.remove"
              @bring-in="coatings.bringIn"
              @layered="layeredFiles.bringIn($event, set)"
            />
          </h2>
          <div v-if="receivers.length > 0 && layers.length > 0" class="choices" role="group" aria-label="Section">
            <button type="button" @click="model?.layLine(false)">Down the model</button>
            <button type="button" @click="model?.layLine(true)">Across the model</button>
          </div>
          <SectionList
            v-if="layers.length > 0"
            :layers="layers"
            :strata="strata"
            :chosen="chosen?.id ?? null"
            :problems="problemsById"
            @choose="chosenId = $event"
            @show="stack.setVisible($event.id, $event.visible)"
            @move="stack.moveBy($event.id, $event.by)"
            @drop="stack.moveAbove($event.id, $event.above)"
          />
          <p v-else class="soft">No layer yet. Add a material, worn edges or dust.</p>
        </section>

        <ChosenLayer
          v-if="chosen"
          v-model:slot-name="slotName"
          :stack="stack"
          :layer="chosen"
          :placement="placement"
          :surface="surface.surface.value"
          :materials="materials"
          :histogram="preview.histogram.value"
          @keep="coatings.keep(ticket.id, chosen.id, chosen.name)"
        >
          <template v-if="isPainting" #default>
            <PenPanel
              :pen="pen"
              :extent="extent.size"
              :middle="extent.middle"
              :pictures="pictures"
              :materials="materials"
              :materials-of-stack="settings.materials"
              :has-clone-source="cloneSource !== null"
              :overlaps="preview.overlaps.value"
              @change="pen = $event"
              @image="putOnBrush"
              @material="paintMaterial"
            />
          </template>
        </ChosenLayer>
      </aside>
    </template>
  </main>
</template>

<style scoped>
.layers {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr) 344px;
  gap: 10px;
  height: 100%;
  padding: 10px 16px;
}

.wide {
  grid-row: 1 / -1;
  grid-column: 1 / -1;
}

.stage {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
}

.views {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}

.beside {
  display: grid;
  position: relative;
  min-width: 0;
  min-height: 0;
}

.which {
  position: absolute;
  top: 8px;
  right: 8px;
}

.foot {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 36px;
  padding: 4px 8px;
  background: var(--paper);
}

.keys {
  margin-left: auto;
}

.problem {
  color: var(--minium);
}

.figures {
  display: grid;
  grid-template-rows: minmax(160px, auto) minmax(0, 1fr);
  overflow: hidden;
}

.figures.editing {
  grid-template-rows: minmax(120px, 30%) minmax(0, 1fr);
}

.figures > .panel {
  min-height: 0;
  overflow: auto;
}

.figures > .strata {
  display: flex;
  flex-direction: column;
  max-height: 46vh;
  overflow: hidden;
}

.panel > h2 {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}

.fold {
  padding-left: 0;
  color: var(--ink-soft);
}
</style>
