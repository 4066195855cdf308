<script setup lang="ts">
import InputNumber from 'primevue/inputnumber';
import { computed, ref } from 'vue';
import type { BakeTicket } from '@zographos/contracts';
import {
  describeKind,
  inUsualOrder,
  MAP_KIND_IDS,
  pickOfMap,
  type ChannelPick,
  type MapKind,
} from '@zographos/core/image';
import {
  BEYOND_LABELS,
  BLEND_LABELS,
  optionsOf,
  pictureLayer,
  type PictureOfTicket,
  kindOptions,
} from '@zographos/operations';
import ColorField from '../../../controls/ColorField.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { limitsOf, scaled } from '../../../controls/limits.ts';
import { useProject } from '../../../stores/project.ts';
import ChannelPicker from '../../ChannelPicker.vue';

/** Which maps come from images that lie on the source, and how several are mixed. */
const props = defineProps<{ ticket: BakeTicket }>();
const store = useProject();

/** Kinds that are looked at without being among the maps yet. */
const further = ref<MapKind[]>([]);
const kinds = computed(() => inUsualOrder([...props.ticket.settings.maps, ...further.value]));
const others = computed(() => kindOptions(MAP_KIND_IDS.filter((each) => !kinds.value.includes(each))));
const chosen = ref<MapKind>(kinds.value[0]!);
function addKind(each: MapKind): void {
  further.value = [...further.value, each];
  chosen.value = each;
}
const kind = computed(() => kinds.value.find((each) => each === chosen.value) ?? kinds.value[0]!);
const pictures = computed(() => props.ticket.inputs.pictures ?? []);
const layers = computed(() => props.ticket.settings.pictures[kind.value] ?? []);
const images = computed(() => store.images.map(({ id, name }) => ({ value: id, label: name })));
const uvSets = computed(() => {
  const sets = store.meshById(props.ticket.inputs.sources[0] ?? '')?.inspection.uvSets ?? [];
  return sets.map((label, value) => ({ label, value }));
});
const WRAPS = optionsOf(BEYOND_LABELS);
const BLENDS = optionsOf(BLEND_LABELS);
/** What is set in percent. */
const SHARES = (
  [
    { key: 'opacity', label: 'Opacity', suffix: ' % opacity' },
    { key: 'contrast', label: 'Contrast', suffix: ' % contrast' },
    { key: 'saturation', label: 'Saturation', suffix: ' % saturation' },
  ] as const
).map((share) => ({ ...share, limits: scaled(limitsOf(pictureLayer, share.key), 100) }));
const TILING = limitsOf(pictureLayer, 'tiling.0', 3);

/** Pictures that no layer names any more are left out, and the others get new numbers. */
function save(next: PictureOfTicket[], added: string[] = []): void {
  const all = [...pictures.value, ...added];
  const rest = Object.entries(props.ticket.settings.pictures).filter(([of]) => of !== kind.value);
  const byKind = [...rest, ...(next.length > 0 ? [[kind.value, next] as const] : [])];
  const used = [...new Set(byKind.flatMap(([, list]) => list.map(({ picture }) => all[picture]!)))];
  const renumbered = byKind.map(([of, list]) => [
    of,
    list.map((layer) => ({ ...layer, picture: used.indexOf(all[layer.picture]!) })),
  ]);
  const { receivers, sources, cage, mask } = props.ticket.inputs;
  const own = { receivers, sources, ...(cage ? { cage } : {}), ...(mask ? { mask } : {}) };
  const { maps } = props.ticket.settings;
  // What cannot be baked is a map of the ticket only as long as an image gives it.
  const isThere = next.length > 0 || (describeKind(kind.value).isBaked && maps.includes(kind.value));
  const without = maps.filter((each) => each !== kind.value);
  if (!isThere && without.length === 0) return;
  void store.changeTicket(props.ticket.id, 'images', {
    settings: {
      ...props.ticket.settings,
      maps: isThere ? inUsualOrder([...maps, kind.value]) : without,
      pictures: Object.fromEntries(renumbered) as BakeTicket['settings']['pictures'],
    },
    inputs: { ...own, ...(used.length > 0 ? { pictures: used } : {}) },
  });
}

function add(id: string): void {
  const known = pictures.value.indexOf(id);
  const picture = known >= 0 ? known : pictures.value.length;
  const packing = store.images.find((image) => image.id === id)?.packing;
  const pick = (packing && pickOfMap(packing, kind.value)) ?? undefined;
  save([...layers.value, pictureLayer.parse({ picture, pick })], known >= 0 ? [] : [id]);
}

const change = (at: number, part: Partial<PictureOfTicket>): void =>
  save(layers.value.map((layer, i) => (i === at ? { ...layer, ...part } : layer)));
const pickOf = (at: number, pick: ChannelPick | undefined): void =>
  save(layers.value.map((layer, i) => (i === at ? pictureLayer.parse({ ...layer, pick }) : layer)));
const remove = (at: number): void => save(layers.value.filter((_, i) => i !== at));
function below(at: number): void {
  const next = [...layers.value];
  [next[at - 1], next[at]] = [next[at]!, next[at - 1]!];
  save(next);
}

const hexOf = (tint: readonly number[]): string =>
  `#${tint
    .map((value) =>
      Math.round(Math.min(1, value) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
const tintOf = (hex: string): [number, number, number] => {
  const value = (at: number): number => Number.parseInt(hex.slice(at, at + 2), 16) / 255;
  return [value(1), value(3), value(5)];
};
const nameOf = ({ picture }: PictureOfTicket): string =>
  store.images.find(({ id }) => id === pictures.value[picture])?.name ?? 'deleted image';
</script>

<template>
  <div class="editor">
    <h3>Maps from images on the source</h3>
    <div class="choices" role="group" aria-label="Map">
      <button v-for="each in kinds" :key="each" type="button" :aria-pressed="each === kind" @click="chosen = each">
        {{ describeKind(each).label }}
      </button>
      <Dropdown
        label="Carry over another map"
        :value="null"
        :options="others"
        placeholder="Another map …"
        @choose="addKind"
      />
    </div>
    <p v-if="!layers.length" class="soft">
      {{ describeKind(kind).label }} comes from the source itself. Add an image to carry it over from that instead.
    </p>
    <ol class="layers">
      <li v-for="(layer, i) in layers" :key="i">
        <p class="head">
          <strong>{{ nameOf(layer) }}</strong>
          <button v-if="i > 0" type="button" class="plain-button" @click="below(i)">Move down</button>
          <button type="button" class="plain-button" @click="remove(i)">Remove</button>
        </p>
        <div class="fields">
          <ChannelPicker :image-id="pictures[layer.picture]!" :pick="layer.pick" @choose="pickOf(i, $event)" />
          <Dropdown
            :label="`UV set of ${nameOf(layer)}`"
            :value="layer.uvSet"
            :options="uvSets"
            @choose="change(i, { uvSet: $event })"
          />
          <Dropdown
            :label="`Beyond the border of ${nameOf(layer)}`"
            :value="layer.wrap"
            :options="WRAPS"
            @choose="change(i, { wrap: $event })"
          />
          <InputNumber
            v-for="axis in [0, 1] as const"
            :key="axis"
            :model-value="layer.tiling[axis]"
            v-bind="TILING"
            :max-fraction-digits="3"
            :suffix="axis === 0 ? ' × horizontal' : ' × vertical'"
            size="small"
            :aria-label="axis === 0 ? 'Repeats, horizontal' : 'Repeats, vertical'"
            @update:model-value="
              change(i, { tiling: axis === 0 ? [$event || 1, layer.tiling[1]] : [layer.tiling[0], $event || 1] })
            "
          />
          <Dropdown
            :label="`Blend mode of ${nameOf(layer)}`"
            :value="layer.blend"
            :options="BLENDS"
            @choose="change(i, { blend: $event })"
          />
          <InputNumber
            v-for="{ key, label, limits, suffix } in SHARES"
            :key="key"
            :model-value="layer[key] * 100"
            v-bind="limits"
            :suffix="suffix"
            size="small"
            :aria-label="label"
            @update:model-value="change(i, { [key]: ($event ?? 100) / 100 })"
          />
          <ColorField
            :label="`Tint of ${nameOf(layer)}`"
            :value="hexOf(layer.tint)"
            @change="change(i, { tint: tintOf($event) })"
          />
        </div>
      </li>
    </ol>
    <Dropdown
      label="Image to add"
      :value="null"
      :options="images"
      :placeholder="images.length ? 'Add an image …' : 'Import images first'"
      :disabled="!images.length"
      @choose="add"
    />
    <p class="soft">The first layer is at the bottom. Transparent areas show the layer below, and last the material.</p>
  </div>
</template>

<style scoped>
.layers {
  display: grid;
  gap: 8px;
  overflow: auto;
  max-height: 380px;
}

li {
  padding-left: 8px;
  border-left: 3px solid var(--line);
}

.head {
  display: flex;
  gap: 8px;
  align-items: center;
}

.head strong {
  flex: 1;
}

.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}

.fields :deep(input) {
  width: 100%;
  min-width: 0;
}

label {
  display: flex;
  gap: 8px;
  align-items: center;
}

.choices button {
  border: 1px solid var(--line);
}
</style>
