<script setup lang="ts">
import Button from 'primevue/button';
import { computed } from 'vue';
import { describeKind, type ChannelPick } from '@zographos/core/image';
import { isSameSize } from '@zographos/core/math';
import type { SeamPlace } from '@zographos/core/measure';
import { ownSize, seamsOfSpots, WANG_TABLE, WHOLE_PICTURE, type Corners } from '@zographos/core/seamless';
import {
  END_METHOD_LABELS,
  keptText,
  optionsOf,
  SEAMLESS_WAY_LABELS,
  seamlessSettings,
  sizeText,
  type SeamlessSettings,
} from '@zographos/operations';
import Choice from '../../../controls/Choice.vue';
import Dropdown from '../../../controls/Dropdown.vue';
import { jsonLink } from '../../../controls/format.ts';
import { limitsOf } from '../../../controls/limits.ts';
import NumberField from '../../../controls/NumberField.vue';
import SizeFields from '../../../controls/SizeFields.vue';
import { useProject } from '../../../stores/project.ts';
import ChannelPicker from '../../../ticket/ChannelPicker.vue';
import { amountField, type AmountField } from '../../../controls/amountField.ts';
import Amounts from '../../../controls/Amounts.vue';
import SeedField from './SeedField.vue';

/** What can be said about a tile, slot by slot. */
const props = defineProps<{
  settings: SeamlessSettings;
  slotName: string;
  images: string[];
  /** Where the tile shows seams, once it was proved. */
  seams: readonly SeamPlace[] | null;
}>();
const emit = defineEmits<{ move: [SeamlessSettings]; change: [SeamlessSettings, string] }>();
/** Radius of the brush, as a share of the tile's shorter side; and the spot whose source is chosen by the next click. */
const brush = defineModel<number>('brush', { required: true });
const sourceOf = defineModel<number | null>('sourceOf', { required: true });

const store = useProject();

type Part = Partial<SeamlessSettings>;
const move = (part: Part): void => emit('move', { ...props.settings, ...part });
const change = (part: Part, what: string): void => emit('change', { ...props.settings, ...part }, what);

const pictureSize = computed(() => store.pictureSize(props.images[0] ?? ''));
const kept = computed(() => pictureSize.value && ownSize(pictureSize.value, props.settings));

/** How much each mend shows. */
const mends = computed(() => props.seams && seamsOfSpots(props.settings.spots, props.seams, props.settings.size));

const methods = optionsOf(END_METHOD_LABELS);
const ways = optionsOf(SEAMLESS_WAY_LABELS);
const AXES = [
  { axis: 'across', title: 'Left and right' },
  { axis: 'up', title: 'Top and bottom' },
] as const;

type Ends = SeamlessSettings['ends']['across'];
const withEnds = (axis: 'across' | 'up', part: Partial<Ends>): Part => ({
  ends: { ...props.settings.ends, [axis]: { ...props.settings.ends[axis], ...part } },
});
const withPick = (at: number, pick: ChannelPick | undefined): Part => ({
  pictures: props.settings.pictures.map((each, i) => (i === at ? { ...each, pick } : each)),
});
const withSpot = (at: number, spot: SeamlessSettings['spots'][number]): Part => ({
  spots: props.settings.spots.map((each, i) => (i === at ? spot : each)),
});

const percent = <Path extends string>(path: Path, label: string, options: Parameters<typeof amountField>[3] = {}) =>
  amountField(seamlessSettings, path, label, { percent: true, ...options });
const EVEN = [
  percent('even.light', 'Even brightness'),
  percent('even.color', 'Even colour cast'),
  percent('even.shadows', 'Remove cast shadows'),
  percent('even.highlights', 'Remove highlights'),
  percent('even.radius', 'Larger than, % of the shorter side', { slider: [0.02, 1] }),
];
const PATCHES = [
  percent('patches.patch', 'Patch size'),
  percent('patches.overlap', 'Overlap'),
  amountField(seamlessSettings, 'patches.spread', 'Tile size, × the image', { suffix: ' ×' }),
  percent('patches.variety', 'Patch tolerance', { slider: [0, 1] }),
];
const WANG = [
  percent('wang.tile', 'Tile size, of the image', { slider: [0.1, 0.9] }),
  percent('wang.variety', 'Patch tolerance', { slider: [0, 1] }),
];
/** What an engine needs beside the atlas. */
const TABLE = jsonLink(WANG_TABLE);
const SPOT = [
  percent('spots.0.radius', 'Radius', { slider: [0.005, 0.2], usual: 0.03, digits: 1 }),
  percent('spots.0.reach', 'Edge within, % of the radius', { slider: [0, 3] }),
];
const BRUSH = [percent('spots.0.radius', 'Brush radius', { slider: [0.005, 0.2], usual: 0.03, digits: 1 })];
/** A cut is narrow by itself, and no end wins. */
const endsFields = (method: Ends['method']): AmountField<'width' | 'softness' | 'balance'>[] => [
  percent('ends.across.width', 'Width', { slider: [0.01, 0.5], digits: 1 }),
  percent('ends.across.softness', 'Softness', method === 'cut' ? {} : { usual: 1 }),
  ...(method === 'cut' ? [] : [percent('ends.across.balance', 'Blend balance')]),
];
const SEED = limitsOf(seamlessSettings, 'patches.seed');

const ENDS_ROWS = computed(() => AXES.map((each) => ({ ...each, own: props.settings.ends[each.axis] })));

/** The frame turned about its middle. */
function turn(degrees: number): void {
  const { corners } = props.settings;
  const [cx, cy] = [0, 1].map((k) => corners.reduce((sum, corner) => sum + corner[k]!, 0) / 4) as [number, number];
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const turned = corners.map(([x, y]) => [cx + (x - cx) * cos - (y - cy) * sin, cy + (x - cx) * sin + (y - cy) * cos]);
  change({ corners: turned as unknown as SeamlessSettings['corners'] }, 'frame');
}

const setCorner = (at: number, k: 0 | 1, value: number | null): void => {
  if (value === null) return;
  const corners = props.settings.corners.map((corner, i) =>
    i === at ? corner.map((old, j) => (j === k ? value / 100 : old)) : corner,
  );
  change({ corners: corners as unknown as SeamlessSettings['corners'] }, 'frame');
};
const CORNER_NAMES = ['upper left', 'upper right', 'lower right', 'lower left'];
const whole = (): void =>
  change({ corners: WHOLE_PICTURE.map((each) => [...each]) as unknown as SeamlessSettings['corners'] }, 'frame');
defineExpose({
  setCorners: (corners: Corners) => change({ corners: corners as SeamlessSettings['corners'] }, 'frame'),
});
</script>

<template>
  <div class="editor">
    <template v-if="slotName === 'pictures'">
      <div v-for="(picture, i) in settings.pictures" :key="picture.kind" class="picture">
        <p>
          <strong>{{ store.pictureName(images[i]!) }}</strong> holds {{ describeKind(picture.kind).phrase }},
          {{ picture.colorSpace === 'srgb' ? 'sRGB (colour)' : 'linear (data)' }}
        </p>
        <ChannelPicker
          :image-id="images[i]!"
          :pick="picture.pick"
          @choose="change(withPick(i, $event), 'channels of an image')"
        />
      </div>
      <p class="soft">
        All images of a set are cut alike, by
        {{
          settings.guide ? `the ${describeKind(settings.guide).phrase} map` : 'the base colour, or the first of them'
        }}. The map type of an image is changed in Intake.
      </p>
    </template>

    <template v-else-if="slotName === 'frame'">
      <p class="soft">Drag the four corners onto the area that becomes the tile; this also removes perspective.</p>
      <div class="corners">
        <template v-for="(corner, i) in settings.corners" :key="i">
          <span>{{ CORNER_NAMES[i] }}</span>
          <NumberField label="" :value="corner[0] * 100" :digits="1" suffix=" %" @change="setCorner(i, 0, $event)" />
          <NumberField label="" :value="corner[1] * 100" :digits="1" suffix=" %" @change="setCorner(i, 1, $event)" />
        </template>
      </div>
      <div class="ways">
        <Button label="Turn 1° left" size="small" outlined @click="turn(-1)" />
        <Button label="Turn 1° right" size="small" outlined @click="turn(1)" />
        <Button label="Turn 90°" size="small" outlined @click="turn(90)" />
        <Button label="Whole image" size="small" outlined @click="whole" />
      </div>
    </template>

    <template v-else-if="slotName === 'even'">
      <Amounts
        :values="settings.even"
        :fields="EVEN"
        @move="move({ even: $event })"
        @change="change({ even: $event }, 'evenness')"
      />
      <p class="soft">
        Differences in brightness larger than this are taken for lighting and divided out; the mean stays. Cast shadows
        are told by their borders, where brightness changes but not the colour of the ground; highlights by their
        whiteness. Hold B to see the image as it was.
      </p>
    </template>

    <template v-else-if="slotName === 'way'">
      <Choice label="Method" :value="settings.way" :options="ways" @choose="change({ way: $event }, 'way')" />
      <template v-if="settings.way === 'ends'">
        <section v-for="{ axis, title, own } in ENDS_ROWS" :key="axis">
          <h3>{{ title }}</h3>
          <Dropdown
            :label="`${title}: method`"
            :value="own.method"
            :options="methods"
            @choose="change(withEnds(axis, { method: $event }), 'ends')"
          />
          <Amounts
            v-if="own.method !== 'none' && own.method !== 'mirror'"
            :values="own"
            :fields="endsFields(own.method)"
            @move="move(withEnds(axis, $event))"
            @change="change(withEnds(axis, $event), 'ends')"
          />
        </section>
      </template>
      <template v-else-if="settings.way === 'wang'">
        <Amounts
          :values="settings.wang"
          :fields="WANG"
          @move="move({ wang: $event })"
          @change="change({ wang: $event }, 'tiles')"
        />
        <SeedField
          :seed="settings.wang.seed"
          v-bind="SEED"
          @change="change({ wang: { ...settings.wang, seed: $event } }, 'tiles')"
        />
        <p class="soft">
          Each map becomes an atlas of sixteen tiles with two colours of corners. Tiles whose corners have the same
          colours lie beside each other without a seam, in any order; the table says which tile has which.
        </p>
        <a class="plain-button" :href="TABLE" download="wang-tiles.json">Save the table</a>
      </template>
      <template v-else>
        <Amounts
          :values="settings.patches"
          :fields="PATCHES"
          @move="move({ patches: $event })"
          @change="change({ patches: $event }, 'patches')"
        />
        <SeedField
          :seed="settings.patches.seed"
          v-bind="SEED"
          @change="change({ patches: { ...settings.patches, seed: $event } }, 'patches')"
        />
      </template>
    </template>

    <p v-else-if="slotName === 'spots' && settings.way === 'wang'" class="soft">
      Spots are not removed from Wang tiles, which share their borders. Remove them from a plain tile first, and make
      Wang tiles of that.
    </p>
    <template v-else-if="slotName === 'spots'">
      <p class="soft">
        Paint over what is to vanish, also across the border of the tile. Its edge is sought beyond the brush, where it
        shows least, and its texture wherever it fits best.
      </p>
      <Amounts
        :values="{ radius: brush }"
        :fields="BRUSH"
        @move="brush = $event.radius"
        @change="brush = $event.radius"
      />
      <section v-for="(each, i) in settings.spots" :key="i">
        <h3>
          Spot {{ i + 1 }}
          <button
            type="button"
            class="plain-button"
            @click="change({ spots: settings.spots.filter((_, k) => k !== i) }, 'spots')"
          >
            Remove
          </button>
        </h3>
        <Amounts
          :values="each"
          :fields="SPOT"
          @move="move(withSpot(i, $event))"
          @change="change(withSpot(i, $event), 'spots')"
        />
        <p v-if="mends?.[i]" class="warn" role="status">
          Its edge shows, {{ mends[i].toFixed(1) }} times as much as the image itself. Widen where the edge may run,
          paint as far as the next joint, or choose another source.
        </p>
        <p v-else-if="mends" class="soft">Its edge does not show.</p>
        <div class="ways">
          <Button
            :label="sourceOf === i ? 'Click the area to copy from …' : 'Choose source'"
            size="small"
            outlined
            :aria-pressed="sourceOf === i"
            @click="sourceOf = sourceOf === i ? null : i"
          />
          <Button
            v-if="each.from"
            label="Best source"
            size="small"
            outlined
            @click="change(withSpot(i, { ...each, from: null }), 'spots')"
          />
        </div>
      </section>
    </template>

    <template v-else-if="slotName === 'size'">
      <SizeFields :size="settings.size" @change="change({ size: $event }, 'size')" />
      <Button
        v-if="kept && !isSameSize(kept, settings.size)"
        :label="`Keep proportions and resolution: ${sizeText(kept)}`"
        size="small"
        outlined
        @click="change({ size: kept }, 'size')"
      />
      <p v-if="pictureSize" class="soft">The tile keeps {{ keptText(pictureSize, settings) }}.</p>
    </template>
  </div>
</template>

<style scoped>
.warn {
  color: var(--minium);
}

.corners {
  display: grid;
  grid-template-columns: 80px 1fr 1fr;
  gap: 6px;
  align-items: center;
}

.corners :deep(.number-field input) {
  width: 84px;
}
</style>
