<script setup lang="ts">
import InputText from 'primevue/inputtext';
import { computed } from 'vue';
import type { MeshAsset } from '@zographos/contracts';
import { layoutSettings } from '@zographos/operations';
import { lengthOf } from '../../../controls/limits.ts';
import { useMeshEdits } from '../../../stores/meshEdits.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useProject } from '../../../stores/project.ts';

/** The UV sets of a mesh: which is looked at, and all that can be done with each. */
const props = defineProps<{ mesh: MeshAsset; uvSet: number }>();
const emit = defineEmits<{ choose: [number] }>();
const store = useProject();
const notices = useNotices();
const meshEdits = useMeshEdits();

const sets = computed(() =>
  props.mesh.inspection.uvSets.map((name, number) => ({
    name,
    number,
    tiles: props.mesh.inspection.uvTiles[number]?.length ?? 1,
    users: store.bakes.filter(
      ({ inputs, settings }) => inputs.receivers.includes(props.mesh.id) && settings.uvSet === number,
    ),
  })),
);
const { id } = props.mesh;

function rename(number: number, event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim();
  if (!name || name === props.mesh.inspection.uvSets[number]) return;
  void meshEdits.change(`name of ${name}`, [{ id, change: { what: 'rename-uv-set', uvSet: number, name } }]);
}

async function add(name: string, from: number | 'x' | 'y' | 'z'): Promise<void> {
  const count = props.mesh.inspection.uvSets.length;
  await meshEdits.change(`new UV set of ${props.mesh.name}`, [{ id, change: { what: 'add-uv-set', name, from } }]);
  if ((store.meshById(id)?.inspection.uvSets.length ?? 0) > count) emit('choose', count);
}

async function remove(number: number): Promise<void> {
  await meshEdits.change(`delete UV set ${props.mesh.inspection.uvSets[number]}`, [
    { id, change: { what: 'remove-uv-set', uvSet: number } },
  ]);
  emit('choose', Math.max(0, Math.min(props.uvSet, (store.meshById(id)?.inspection.uvSets.length ?? 1) - 1)));
}

async function earlier(number: number): Promise<void> {
  const order = sets.value.map((set) => set.number);
  [order[number - 1], order[number]] = [order[number]!, order[number - 1]!];
  await meshEdits.change(`order of UV sets`, [{ id, change: { what: 'order-uv-sets', order } }]);
  if (props.uvSet === number) emit('choose', number - 1);
}

/** A ticket that is to bake onto a set of this mesh. */
function use(number: number): void {
  const user = store.bakes.filter(({ inputs }) => inputs.receivers[0] === id);
  if (user.length === 0) {
    notices.say('error', `No ticket bakes onto “${props.mesh.name}” yet. Make one in the Bake room.`);
    return;
  }
  for (const ticket of user) {
    if (ticket.settings.uvSet === number) continue;
    void store.changeTicket(ticket.id, 'UV set', { settings: { ...ticket.settings, uvSet: number } });
  }
}
</script>

<template>
  <section class="sets">
    <h3>UV sets of {{ mesh.name }}</h3>
    <ul>
      <li v-for="set in sets" :key="set.number" :class="{ here: set.number === uvSet }">
        <InputText
          :model-value="set.name"
          size="small"
          :maxlength="lengthOf(layoutSettings, 'name')"
          :aria-label="`Name of UV set ${set.number + 1}`"
          @change="rename(set.number, $event)"
        />
        <p class="ways">
          <button
            type="button"
            class="plain-button"
            :disabled="set.number === uvSet"
            @click="emit('choose', set.number)"
          >
            Show
          </button>
          <button type="button" class="plain-button" @click="add(`${set.name} copy`, set.number)">Copy</button>
          <button
            v-if="set.number > 0"
            v-tooltip="`Above ${sets[set.number - 1]!.name}`"
            type="button"
            class="plain-button"
            @click="earlier(set.number)"
          >
            Move up
          </button>
          <button type="button" class="plain-button" @click="use(set.number)">Use for baking</button>
          <button
            v-tooltip="set.users.length ? 'A ticket uses it' : 'Can be undone'"
            type="button"
            class="plain-button"
            :disabled="set.users.length > 0"
            @click="remove(set.number)"
          >
            Delete
          </button>
        </p>
        <p v-if="set.users.length" class="soft">used by {{ set.users.map(({ name }) => name).join(', ') }}</p>
      </li>
    </ul>
    <p v-if="!sets.length">No UV set yet. Unwrap the mesh or project it:</p>
    <p class="ways">
      <span class="soft">New planar projection along</span>
      <button
        v-for="axis in ['x', 'y', 'z'] as const"
        :key="axis"
        type="button"
        class="plain-button"
        @click="add('Flat', axis)"
      >
        {{ axis.toUpperCase() }}
      </button>
    </p>
  </section>
</template>

<style scoped>
.sets {
  display: grid;
  gap: 8px;
  width: 380px;
}

ul {
  display: grid;
  gap: 6px;
  overflow: auto;
  max-height: 340px;
}

li {
  padding: 4px 8px 6px;
  border-left: 3px solid var(--line);
}

li.here {
  border-left-color: var(--azurite);
}

li :deep(input) {
  width: 100%;
}
</style>
