<script setup lang="ts">
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import { computed, inject, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { ENDPOINTS, PATHS, UNITS, type Asset, type ImageAsset, type MeshAsset } from '@zographos/contracts';
import { kindsOfPacking, phraseOfKinds, wideKindOf, type ImagePacking, type MapKind } from '@zographos/core/image';
import { kindOptions, proposeSets } from '@zographos/operations';
import { call } from '../../api/call.ts';
import ConventionFields from './ConventionFields.vue';
import ImageView from './ImageView.vue';
import PackingFields from './PackingFields.vue';
import PropertySelect from './PropertySelect.vue';
import SetsFromImages from './SetsFromImages.vue';
import FilePicker from '../../controls/FilePicker.vue';
import { bringInKey } from '../../stores/bringIn.ts';
import { count, measure, whole } from '../../controls/format.ts';
import ModelView from '../../viewport/ModelView.vue';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';

const store = useProject();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
const bringIn = inject(bringInKey)!;

const assets = computed<Asset[]>(() => [...store.meshes, ...store.images]);
const chosen = computed<Asset | undefined>(
  () => assets.value.find((asset) => asset.id === route.query['asset']) ?? assets.value[0],
);
const mesh = computed<MeshAsset | null>(() => (chosen.value?.kind === 'mesh' ? chosen.value : null));
const image = computed<ImageAsset | null>(() => (chosen.value?.kind === 'image' ? chosen.value : null));

const KINDS = kindOptions();
/** The maps that an image holds. */
const kindsIn = ({ kind, packing }: { kind: MapKind; packing?: ImagePacking | null | undefined }): MapKind[] => {
  const packed = packing ? kindsOfPacking(packing) : [];
  return packed.length > 0 ? packed : [kind];
};
const COLOR_SPACES = [
  { value: 'srgb', label: 'sRGB (colour)' },
  { value: 'linear', label: 'Linear (data)' },
] as const;
const UNIT_OPTIONS = UNITS.map((value) => ({ value, label: value }));

const extent = computed(() => {
  if (!mesh.value) return '';
  const { min, max } = mesh.value.inspection.bounds;
  return `${[0, 1, 2].map((axis) => measure(max[axis]! - min[axis]!)).join(' × ')} ${mesh.value.unit}`;
});

/** Images that no ticket uses yet, as the sets that they are. */
const proposed = computed(() => {
  const used = new Set((store.project?.tickets ?? []).flatMap(({ inputs }) => inputs.pictures ?? []));
  return proposeSets(
    store.images
      .filter(({ id }) => !used.has(id))
      .map(({ id, name, imageKind, colorSpace, convention, packing, inspection: { width, height, channels } }) => ({
        ...{ id, name, kind: imageKind, colorSpace, convention, packing, width, height, channels },
      })),
    store.meshes.map(({ id, name, inspection: { triangles, uvSets } }) => ({
      ...{ id, name, triangles, uvSets: uvSets.length },
    })),
  );
});
const isMakingSets = ref(false);

function choose(id: string): void {
  isMakingSets.value = false;
  void router.replace({ query: { asset: id } });
}
const worst = (asset: Asset): 'error' | 'warning' | 'note' | null => {
  if (asset.kind === 'image') return asset.inspection.findings.length > 0 ? 'warning' : null;
  const severities = asset.inspection.findings.map(({ severity }) => severity);
  return (['error', 'warning', 'note'] as const).find((severity) => severities.includes(severity)) ?? null;
};

/** Of what a packed image is as a whole depends how its colours are meant. */
function changePacking(what: string, packing: ImagePacking | null): void {
  const imageKind = packing ? (wideKindOf(packing) ?? 'image') : image.value!.inspection.guess.kind;
  void store.changeAsset(image.value!, what, { packing, imageKind });
}

function rename(asset: Asset, event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim();
  if (name && name !== asset.name) void store.changeAsset(asset, 'name', { name });
}

async function remove(asset: Asset): Promise<void> {
  await notices.guard(() => call(ENDPOINTS.deleteAsset, { id: asset.id }));
  await store.reload();
}
</script>

<template>
  <main class="intake">
    <section class="panel list" aria-label="Meshes and images">
      <FilePicker label="Import files" @files="bringIn" />
      <p v-if="!assets.length" class="soft">
        OBJ, glTF, GLB, PLY or STL; PNG, JPEG, TIFF, EXR, HDR, TGA, WebP or SVG. Or drop them anywhere on this page.
      </p>
      <Button
        v-if="proposed.length && !isMakingSets"
        :label="`Make ${count(proposed.length, 'image set')} …`"
        size="small"
        outlined
        @click="isMakingSets = true"
      />
      <ul>
        <li v-for="asset in assets" :key="asset.id">
          <button
            type="button"
            :class="{ chosen: asset.id === chosen?.id }"
            :aria-pressed="asset.id === chosen?.id"
            @click="choose(asset.id)"
          >
            <strong>{{ asset.name }}</strong>
            <span class="soft">
              <template v-if="asset.kind === 'mesh'">{{ whole(asset.inspection.triangles) }} triangles</template>
              <template v-else
                >{{ asset.inspection.width }} × {{ asset.inspection.height }} px,
                {{ phraseOfKinds(kindsIn({ kind: asset.imageKind, packing: asset.packing })) }}</template
              >
            </span>
            <span v-if="worst(asset)" class="sign" :class="worst(asset)">{{ worst(asset) }}</span>
          </button>
        </li>
      </ul>
    </section>

    <SetsFromImages v-if="isMakingSets" :proposed="proposed" @close="isMakingSets = false" />
    <section v-if="!isMakingSets" class="view">
      <ModelView v-if="mesh" :key="mesh.contentHash" :receivers="[mesh]" :sources="[]" :maps="[]" :uv-set="0" />
      <ImageView v-else-if="image" :image="image" />
      <p v-else>No files imported yet.</p>
    </section>

    <section v-if="chosen && !isMakingSets" class="panel details" aria-label="Properties">
      <label class="row">
        <span class="soft">Name</span>
        <InputText :model-value="chosen.name" size="small" maxlength="120" @change="rename(chosen, $event)" />
      </label>
      <dl v-if="mesh">
        <dt>Triangles</dt>
        <dd>{{ whole(mesh.inspection.triangles) }}</dd>
        <dt>Vertices</dt>
        <dd>{{ whole(mesh.inspection.vertices) }}</dd>
        <dt>UV sets</dt>
        <dd>{{ mesh.inspection.uvSets.join(', ') || 'none' }}</dd>
        <dt>Material slots</dt>
        <dd>{{ mesh.inspection.slots.join(', ') }}</dd>
        <dt>Vertex colours</dt>
        <dd>{{ mesh.inspection.hasColors ? 'yes' : 'no' }}</dd>
        <dt>Size</dt>
        <dd>{{ extent }}</dd>
        <PropertySelect
          label="Unit"
          :value="mesh.unit"
          :options="UNIT_OPTIONS"
          @change="store.changeAsset(mesh, 'unit', { unit: $event })"
        />
        <dt>File</dt>
        <dd>
          <a :href="PATHS.original(mesh.id)">{{ mesh.fileName }}</a><template v-if="mesh.revision > 1"
            >, revision {{ mesh.revision }}</template
          >
        </dd>
      </dl>
      <dl v-else-if="image">
        <dt>Size</dt>
        <dd>{{ image.inspection.width }} × {{ image.inspection.height }} px</dd>
        <dt>Channels</dt>
        <dd>
          {{ count(image.inspection.channels, 'channel') }}, {{ image.inspection.bits }} bit per channel,
          {{ image.inspection.format.toUpperCase() }}
        </dd>
        <PackingFields :image="image" @change="changePacking" />
        <PropertySelect
          v-if="!image.packing"
          label="Map type"
          :value="image.imageKind"
          :options="KINDS"
          @change="store.changeAsset(image, 'map type', { imageKind: $event, convention: null })"
        />
        <PropertySelect
          label="Colour space"
          :value="image.colorSpace"
          :options="COLOR_SPACES"
          @change="store.changeAsset(image, 'colour space', { colorSpace: $event })"
        />
        <ConventionFields
          :kind="image.imageKind"
          :convention="image.convention"
          @change="(what, convention) => store.changeAsset(image!, what, { convention })"
        />
        <dt>Detected as</dt>
        <dd>{{ phraseOfKinds(kindsIn(image.inspection.guess)) }}, {{ image.inspection.guess.reason }}</dd>
        <dt>File</dt>
        <dd>
          <a :href="PATHS.original(image.id)">{{ image.fileName }}</a>
        </dd>
      </dl>

      <h2>Findings</h2>
      <ul class="findings">
        <template v-if="mesh">
          <li v-for="finding in mesh.inspection.findings" :key="finding.kind" :class="finding.severity">
            <span class="sign" :class="finding.severity">{{ finding.severity }}</span> {{ finding.sentence }}
            <RouterLink
              v-if="finding.kind.includes('uvs')"
              :to="{ name: 'uv', params: { projectId: store.project!.id, meshIds: mesh.id } }"
              >{{ finding.kind === 'no-uvs' ? 'Unwrap it' : 'Open layout' }}</RouterLink
            >
          </li>
        </template>
        <template v-else-if="image">
          <li v-for="sentence in image.inspection.findings" :key="sentence">{{ sentence }}</li>
        </template>
        <li v-if="worst(chosen) === null">
          <span class="mark mark-fresh"><span>No problems found</span></span>
        </li>
      </ul>
      <p v-if="mesh" class="soft role">
        {{
          mesh.inspection.uvSets.length
            ? 'Can be a receiver or a source.'
            : 'Can be a source. Needs UVs to be a receiver.'
        }}
      </p>
      <button type="button" class="plain-button remove" @click="remove(chosen)">Delete {{ chosen.kind }}</button>
    </section>
  </main>
</template>

<style scoped>
.intake {
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr) 290px;
  gap: 12px;
  height: 100%;
  padding: 12px 20px;
}

.panel {
  overflow: auto;
}

.list {
  display: grid;
  gap: 10px;
  align-content: start;
}

.list button {
  display: grid;
  grid-template-columns: 1fr auto;
  width: 100%;
  padding: 7px 10px;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.list strong {
  grid-column: 1 / -1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.list button:hover {
  background: var(--azurite-wash);
}

.list button.chosen {
  border-color: var(--azurite);
  background: var(--paper-raised);
}

.sign {
  font-weight: 650;
}
.sign.error {
  color: var(--minium);
}
.sign.warning {
  color: var(--ochre);
}
.sign.note {
  color: var(--ink-soft);
  font-weight: 400;
}

.view {
  display: grid;
  min-height: 0;
  background: var(--surround);
}

.view > p {
  place-self: center;
}

.row,
dl {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr);
  gap: 6px 10px;
  align-items: center;
}

.row {
  margin-bottom: 8px;
}

dl {
  margin-bottom: 14px;
}

dl :deep(dt) {
  color: var(--ink-soft);
}

dl :deep(dd) {
  overflow-wrap: anywhere;
}

.findings li {
  padding-block: 6px;
  border-top: 1px solid var(--line);
}

.role {
  margin: 10px 0;
}

.remove {
  padding: 0;
}
</style>
