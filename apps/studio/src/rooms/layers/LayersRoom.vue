<script setup lang="ts">
import Button from 'primevue/button';
import { useEventListener } from '@vueuse/core';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { MapKind } from '@zographos/core/image';
import { LAYER_CHANNELS, layerById, type Layer, type MaskStep, type PicturePlace } from '@zographos/core/layers';
import type { Coating, ImageSet, LayersTicket } from '@zographos/contracts';
import { layerSentence, renumberedLayers, type LayersSettings } from '@zographos/operations';
import { percent } from '../../controls/format.ts';
import { isTyping } from '../../controls/isTyping.ts';
import Dropdown from '../../controls/Dropdown.vue';
import NameField from '../../controls/NameField.vue';
import { CELL_WORDS, useCells } from '../../stores/cells.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import SentenceSlots from '../../ticket/SentenceSlots.vue';
import AddLayer from './AddLayer.vue';
import BlendEditor from './editors/BlendEditor.vue';
import ContentEditor from './editors/ContentEditor.vue';
import MaskEditor from './editors/MaskEditor.vue';
import StackSlot from './editors/StackSlot.vue';
import LayersMap from './LayersMap.vue';
import LayersModel from './LayersModel.vue';
import { MASK_KIND } from './layerTextures.ts';
import { emptyGroup, likelyLayers, newId, paintedLayer, type NewLayer } from './newLayers.ts';
import { PLAIN_PICTURE, type ModelView, type PenPoint } from './painting/pen.ts';
import PenPanel from './painting/PenPanel.vue';
import { usePainting } from './painting/usePainting.ts';
import type { FoundPlace, SectionLine } from './preview/layersWorker.ts';
import { useLayersPreview } from './preview/useLayersPreview.ts';
import SectionList from './section/SectionList.vue';
import { useCoatings } from './useCoatings.ts';
import { placedAt, useStackPictures, type SurfacePlace } from './useStackPictures.ts';
import StackChooser from './StackChooser.vue';
import { changed, copyOf, grouped, insertedAbove, moved, movedAbove, removed, withNewIds } from './stackEdits.ts';

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
const receivers = computed(() => store.meshesByIds(ticket.value?.inputs.receivers));
const setOptions = computed(() => [
  ...layeredSets.value.map(({ id, name }) => ({ value: id, label: name })),
  { value: 'new', label: 'Another image set …' },
]);

/** Settings as they are being moved; the ticket's own otherwise. */
const movedTo = shallowRef<LayersSettings | null>(null);
const settings = computed(() => movedTo.value ?? ticket.value?.settings);
watch(
  () => [ticket.value?.id, ticket.value?.version],
  () => (movedTo.value = null),
);
const layers = computed(() => settings.value?.layers ?? []);

const chosenId = ref<string | null>(null);
const chosen = computed(
  () => (chosenId.value ? layerById(layers.value, chosenId.value) : undefined) ?? layers.value.at(-1),
);
watch(
  () => ticket.value?.id,
  () => (chosenId.value = null),
);

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
const picking = ref<number | null>(null);
watch(chosenId, () => (picking.value = null));

const painting = usePainting({
  projectId: () => props.projectId,
  layers,
  chosen,
  extent: computed(() => extent.value.size),
  view: () => model.value?.stencilView() ?? null,
  show: (next) => {
    if (settings.value) movedTo.value = { ...settings.value, layers: next };
  },
  keep: (next, what) => changeLayers(next, what),
});
const { isOn: isPainting, pen, underPen, cloneSource } = painting;
const inMillimetres = (place: readonly [number, number, number]): [number, number, number] =>
  place.map((value) => value * (settings.value?.unit ?? 1)) as [number, number, number];

/** Paints into the chosen layer, or into a new one where it cannot be painted. */
async function paint(): Promise<void> {
  if (painting.target.value === null) await add(paintedLayer());
  isPainting.value = !isPainting.value;
  if (isPainting.value) slotName.value = painting.target.value === 'content' ? 'content' : 'mask';
}

const penAt = ({ place, ...rest }: PenPoint): void => painting.goOn({ ...rest, place: inMillimetres(place) });

const stackPictures = useStackPictures(ticket, settings);
const { chosen: pictures } = stackPictures;
/** What the next click on the model or the map places: the image of the layer, or that of a step of its mask. */
const placing = ref<'content' | number | null>(null);
watch(chosenId, () => (placing.value = null));

/** The stencil on the brush, if one is. */
const stencil = computed(() => {
  const { picture } = pen.value.brush;
  if (!isPainting.value || picture?.lies !== 'view') return null;
  const image = store.images.find(({ id }) => id === pictures.value[picture.picture]?.id);
  return image ? { thumbnail: image.thumbnailHash, aspect: stackPictures.aspectOf(image.id) } : null;
});

async function putOnBrush(id: string): Promise<void> {
  const { number, change } = stackPictures.use(id);
  await changeLayers([...layers.value], 'image of the brush', change.part, change.pictures);
  const before = pen.value.brush.picture ?? PLAIN_PICTURE;
  pen.value = { ...pen.value, brush: { ...pen.value.brush, picture: { ...before, picture: number } } };
}

/** Another image for the chosen layer, or for a step of its mask; a decal keeps its width. */
async function setImage(
  at: 'content' | number,
  id: string,
  aspect = stackPictures.aspectOf(id),
  name?: string,
): Promise<void> {
  const layer = chosen.value;
  if (!layer) return;
  const { number, change } = stackPictures.use(id);
  const shaped = (place: PicturePlace): PicturePlace =>
    place.on === 'surface' ? { ...place, height: place.width * aspect } : place;
  const next = changed(layers.value, layer.id, (own): Layer => {
    const named = name ? { ...own, name } : own;
    if (at === 'content') {
      return named.content === 'picture' ? { ...named, picture: number, place: shaped(named.place) } : named;
    }
    const steps = named.mask.steps.map((step, i) =>
      i === at && step.measure === 'picture'
        ? { ...step, picture: number, place: step.place && shaped(step.place) }
        : step,
    );
    return { ...named, mask: { ...named.mask, steps } };
  });
  await changeLayers(next, 'image', change.part, change.pictures);
}

/** Puts what is being placed where was clicked. */
function place(where: SurfacePlace): void {
  const layer = chosen.value;
  const at = placing.value;
  if (!layer || at === null) return;
  if (at === 'content') {
    if (layer.content === 'picture') void changeLayer({ ...layer, place: placedAt(layer.place, where) }, 'place');
    return;
  }
  const steps = layer.mask.steps.map((step, i) =>
    i === at && step.measure === 'picture' && step.place ? { ...step, place: placedAt(step.place, where) } : step,
  );
  void changeLayer({ ...layer, mask: { ...layer.mask, steps } }, 'place');
}

/** Told of clicks in the map, and of the pen there. */
function onFound(found: FoundPlace): void {
  if (found.pressure === null) pick(found);
  else painting.goOn({ place: found.place, normal: found.normal, pressure: found.pressure });
}

const { tiles, problems, strata, milliseconds, busy, problem, findTriangle, findTriangleDone } = useLayersPreview({
  ticket,
  settings: shown,
  ...{ side, maskOf, section, pen: underPen },
  onTriangle: onFound,
});
const problemsById = computed(() => new Map(problems.value.map(({ id, message }) => [id, message])));
/** Whether maps are missing that a run would bake. */
const canBake = computed(() => problems.value.some(({ message }) => message.includes('not made yet')));

/** How large the receivers are, and between which heights they lie, in millimetres. */
const extent = computed((): { size: number; upright: [number, number]; middle: [number, number, number] } => {
  const unit = settings.value?.unit ?? 1;
  const boxes = receivers.value.map(({ inspection }) => inspection.bounds);
  if (boxes.length === 0) {
    const width = settings.value?.tileWidth ?? 1000;
    return { size: width, upright: [0, width], middle: [width / 2, width / 2, 0] };
  }
  const low = [0, 1, 2].map((k) => Math.min(...boxes.map(({ min }) => min[k]!)) * unit);
  const high = [0, 1, 2].map((k) => Math.max(...boxes.map(({ max }) => max[k]!)) * unit);
  return {
    size: Math.max(...high.map((value, k) => value - low[k]!)),
    upright: [low[1]!, high[1]!],
    middle: high.map((value, k) => (value + low[k]!) / 2) as [number, number, number],
  };
});

const stepSurface = computed(() => ({
  extent: extent.value.size,
  slots: [...new Set(receivers.value.flatMap(({ inspection }) => inspection.slots))],
  objects: receivers.value.map(({ name }) => name),
}));

const materials = computed(() =>
  sets.value.filter(({ receiverId, maps }) => receiverId === null && maps.some(({ revisions }) => revisions[0])),
);
const offers = computed(() => {
  const baked = LAYER_CHANNELS.filter((channel) =>
    set.value?.maps.some(({ kind, layered, revisions }) => kind === channel && !layered && revisions[0]),
  );
  return likelyLayers(stepSurface.value.slots, materials.value, baked, extent.value.upright, store.images.length > 0);
});

function move(next: Layer): void {
  if (settings.value) movedTo.value = { ...settings.value, layers: changed(layers.value, next.id, () => next) };
}

const changeLayer = (next: Layer, what = next.name): Promise<void> =>
  changeLayers(
    changed(layers.value, next.id, () => next),
    what,
  );

async function changeLayers(
  next: Layer[],
  what: string,
  part: Partial<LayersSettings> = {},
  images?: string[],
): Promise<void> {
  if (!ticket.value || !settings.value) return;
  movedTo.value = { ...settings.value, ...part, layers: next };
  const inputs = images && { inputs: { ...ticket.value.inputs, pictures: images } };
  await store.changeTicket(ticket.value.id, what, { settings: movedTo.value, ...inputs });
}

/** The number of a flat set among the materials of the stack; put there if it is not. */
function materialOf(flat: ImageSet): { number: number; part: Partial<LayersSettings> } {
  const known = settings.value!.materials;
  const number = known.findIndex((material) => material.set === flat.id);
  if (number >= 0) return { number, part: {} };
  const material = { name: flat.name, set: flat.id, width: flat.tileWidth ?? 1000, maps: {} };
  return { number: known.length, part: { materials: [...known, material] } };
}

async function add(offer: NewLayer): Promise<void> {
  const { layer, material, title } = offer;
  const { number, part } = material ? materialOf(material) : { number: 0, part: {} };
  const next = { ...withNewIds(layer, newId), ...(material ? { material: number } : {}) } as Layer;
  if (offer.picture) {
    const middle = model.value?.middle();
    const where = middle && { ...middle, triangle: 0, place: inMillimetres(middle.place) };
    const pictured = await stackPictures.pictured(
      offer,
      where ?? null,
      extent.value.size,
      set.value?.name ?? 'Letters',
    );
    if (!pictured) return;
    const named = { ...pictured.layer, id: next.id };
    chosenId.value = next.id;
    await changeLayers(
      insertedAbove(layers.value, chosen.value?.id ?? null, named),
      `adding of “${title}”`,
      pictured.change.part,
      pictured.change.pictures,
    );
    slotName.value = layer.content === 'picture' ? 'place' : 'mask';
    placing.value = layer.content === 'picture' ? 'content' : 0;
    return;
  }
  const under = chosen.value;
  chosenId.value = next.id;
  // A group that is chosen takes what is added.
  const all =
    under?.content === 'group'
      ? changed(layers.value, under.id, (group) =>
          group.content === 'group' ? { ...group, layers: [...group.layers, next] } : group,
        )
      : insertedAbove(layers.value, under?.id ?? null, next);
  await changeLayers(all, `adding of “${title}”`, part);
}

const coatings = useCoatings();

/** Lays a coating of the library on, with the images and materials that it has brought into the project. */
async function layCoating(coating: Coating): Promise<void> {
  const used = await coatings.use(props.projectId, coating, pictures.value.length);
  if (!used || !settings.value || !ticket.value) return;
  await store.reload();
  const own = settings.value;
  const change = stackPictures.useAll(used.pictures);
  const known = own.materials.length;
  const added = used.materials.map((id) => {
    const flat = sets.value.find((each) => each.id === id);
    return { name: flat?.name ?? coating.name, set: id, width: flat?.tileWidth ?? 1000, maps: {} };
  });
  const numbers = new Map(used.materials.map((_, i) => [i, known + i]));
  const laid = renumberedLayers(used.layers, { materials: numbers }).map((layer) => withNewIds(layer, newId));
  const group = laid.length === 1 ? laid[0]! : { ...emptyGroup(), id: newId(), name: used.name, layers: laid };
  chosenId.value = group.id;
  await changeLayers(
    insertedAbove(layers.value, chosen.value?.id ?? null, group),
    `coating “${used.name}”`,
    { ...change.part, materials: [...(change.part.materials ?? own.materials), ...added] },
    change.pictures,
  );
}

async function setMaterial(layer: Layer, flatId: string): Promise<void> {
  const flat = materials.value.find(({ id }) => id === flatId);
  if (!flat) return;
  const { number, part } = materialOf(flat);
  const next = changed(layers.value, layer.id, (each) => ({ ...each, name: flat.name, material: number }) as Layer);
  await changeLayers(next, 'material', part);
}

function remove(layer: Layer): void {
  chosenId.value = null;
  void changeLayers(removed(layers.value, layer.id), `removal of “${layer.name}”`);
}

function duplicate(layer: Layer): void {
  const copy = copyOf(layer, newId);
  chosenId.value = copy.id;
  void changeLayers(insertedAbove(layers.value, layer.id, copy), `copy of “${layer.name}”`);
}

const group = (layer: Layer): Promise<void> =>
  changeLayers(grouped(layers.value, layer.id, emptyGroup()), `group of “${layer.name}”`);

/** What was clicked on goes into the step of the mask that is being picked for. */
function pick({ triangle, add: adds, ...where }: Omit<FoundPlace, 'pressure'>): void {
  if (placing.value !== null) {
    place({ ...where, triangle });
    return;
  }
  const layer = chosen.value;
  const step = picking.value === null ? undefined : layer?.mask.steps[picking.value];
  if (!layer || !step) return;
  const steps = layer.mask.steps.map((each) => (each === step ? pickedInto(each, triangle, adds) : each));
  void changeLayer({ ...layer, mask: { ...layer.mask, steps } }, 'mask');
}

function pickedInto(step: MaskStep, triangle: number, adds: boolean): MaskStep {
  if (step.measure === 'part' || step.measure === 'island') {
    return { ...step, triangles: adds ? [...step.triangles, triangle] : [triangle] };
  }
  if (step.measure !== 'faces') return step;
  const of = receivers.value.reduce((sum, { inspection }) => sum + inspection.triangles, 0);
  const kept = adds && step.of === of ? step.ranges : [];
  return { ...step, of, ranges: [...kept, [triangle, triangle + 1] as const] };
}

const sentence = computed(() =>
  chosen.value
    ? layerSentence(chosen.value, {
        materials: (settings.value?.materials ?? []).map(({ name }) => name),
        pictures: (ticket.value?.inputs.pictures ?? []).map(store.pictureName),
      })
    : [],
);
const stackParts = computed(() =>
  ticket.value && settings.value ? store.sentenceOf({ ...ticket.value, settings: settings.value }) : [],
);
const more = computed(() =>
  ticket.value && settings.value ? store.moreSentencesOf({ ...ticket.value, settings: settings.value }) : [],
);
const isFolded = ref(true);

const slotName = ref<string | null>(null);

/** The editor stands where the section is, so that the model stays in sight. */
async function edit(name: string): Promise<void> {
  slotName.value = slotName.value === name ? null : name;
  await nextTick();
}
watch(chosenId, () => (slotName.value = null));

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

const setPart = (part: Partial<LayersSettings>, what: string): Promise<void> =>
  changeLayers([...layers.value], what, part);
const materialSetOf = (own: LayersTicket, layer: Layer): string | null =>
  layer.content === 'tiling' ? (own.settings.materials[layer.material]?.set ?? null) : null;
</script>

<template>
  <main class="layers">
    <StackChooser v-if="!set || !ticket || !settings" :project-id="projectId" :sets="sets" class="wide" />
    <template v-else>
      <section class="panel ticket" aria-label="Ticket">
        <SentenceSlots :parts="stackParts" :more="isFolded ? [] : more">
          <template #default="{ slotName: name }">
            <StackSlot :slot-name="name" :settings="settings" @change="setPart($event, name)" />
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
            :stencil="stencil"
            :unit="settings.unit"
            @line="section = $event"
            @pick="pick({ ...$event, place: inMillimetres($event.place) })"
            @source="cloneSource = inMillimetres($event.place)"
            @pen-down="painting.begin()"
            @pen-at="penAt"
            @pen-up="painting.end()"
          />
          <LayersMap
            :tiles="tiles"
            :alone="alone"
            :name="set.name"
            :painting="isPainting"
            @pick="findTriangle"
            @pen-down="painting.begin()"
            @pen-up="findTriangleDone(painting.end)"
          />
        </div>
        <p class="foot">
          <Dropdown label="Image set" :value="set.id" :options="setOptions" @choose="open" />
          <Dropdown label="Size of the preview" :value="side" :options="SIDES" @choose="side = $event" />
          <Button
            v-if="receivers.length > 0"
            :label="isPainting ? 'Stop painting' : 'Paint'"
            :outlined="!isPainting"
            size="small"
            @click="paint"
          />
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
              @add="add"
              @lay="layCoating"
              @remove="coatings.remove"
              @bring-in="coatings.bringIn"
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
            @show="
              changeLayers(
                changed(layers, $event.id, (layer) => ({ ...layer, visible: $event.visible })),
                'visibility',
              )
            "
            @move="changeLayers(moved(layers, $event.id, $event.by), 'order')"
            @drop="changeLayers(movedAbove(layers, $event.id, $event.above), 'order')"
          />
          <p v-else class="soft">No layer yet. Add a material, worn edges or dust.</p>
        </section>

        <section v-if="chosen" class="panel chosen">
          <h2>
            <NameField
              :key="chosen.id"
              label="Name of the layer"
              usual="Layer"
              :length="120"
              :value="chosen.name"
              @change="changeLayer({ ...chosen, name: $event }, 'name')"
            />
          </h2>
          <p class="sentence small">
            <template v-for="(part, i) in sentence" :key="i"
              ><button
                v-if="part.slot"
                type="button"
                class="slot"
                :aria-pressed="part.slot === slotName"
                @click="edit(part.slot)"
              >
                {{ part.text }}</button
              ><template v-else>{{ part.text }}</template></template
            >
          </p>
          <div class="ways">
            <button type="button" class="plain-button" @click="changeLayers(moved(layers, chosen.id, 1), 'order')">
              Move up
            </button>
            <button type="button" class="plain-button" @click="changeLayers(moved(layers, chosen.id, -1), 'order')">
              Move down
            </button>
            <button type="button" class="plain-button" @click="duplicate(chosen)">Duplicate</button>
            <button type="button" class="plain-button" @click="group(chosen)">Group</button>
            <button type="button" class="plain-button" @click="coatings.keep(ticket.id, chosen.id, chosen.name)">
              Keep as coating
            </button>
            <button type="button" class="plain-button" @click="remove(chosen)">Remove</button>
          </div>
          <PenPanel
            v-if="isPainting"
            :pen="pen"
            :extent="extent.size"
            :middle="extent.middle"
            :pictures="pictures"
            :has-clone-source="cloneSource !== null"
            @change="pen = $event"
            @image="putOnBrush"
          />
          <div v-else-if="slotName" class="editor">
            <MaskEditor
              v-if="slotName === 'mask'"
              :mask="chosen.mask"
              :surface="stepSurface"
              :picking="picking"
              :placing="placing === 'content' ? null : placing"
              :pictures="pictures"
              :title="chosen.name"
              @placing="placing = $event"
              @image="setImage($event.at, $event.id)"
              @lettering="setImage($event.at, $event.id, $event.aspect, $event.text)"
              @pick="picking = $event"
              @move="move({ ...chosen, mask: $event })"
              @change="changeLayer({ ...chosen, mask: $event }, 'mask')"
            />
            <BlendEditor
              v-else-if="slotName === 'blend' || slotName === 'opacity'"
              :layer="chosen"
              @move="move"
              @change="changeLayer($event, 'blending')"
            />
            <ContentEditor
              v-else
              :layer="chosen"
              :materials="materials"
              :material="materialSetOf(ticket, chosen)"
              :extent="extent.size"
              :pictures="pictures"
              :placing="placing === 'content'"
              @placing="placing = $event ? 'content' : null"
              @image="setImage('content', $event)"
              @move="move"
              @change="changeLayer"
              @material="setMaterial(chosen, $event)"
            />
          </div>
        </section>
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

.chosen .ways {
  gap: 0 2px;
}

.figures > .panel {
  min-height: 0;
  overflow: auto;
}

.strata {
  max-height: 46vh;
}

.panel > h2 {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}

.sentence.small {
  font-size: 15px;
}

.slot[aria-pressed='true'] {
  background: var(--azurite-wash);
}

.editor {
  display: grid;
  gap: 8px;
  padding-top: 8px;
}

.fold {
  padding-left: 0;
  color: var(--ink-soft);
}
</style>
