<script setup lang="ts">
import { computed } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import { groupOfLight, LIGHT_LABELS, optionsOf, type PlacedLight } from '@zographos/operations';
import Dropdown from '../../controls/Dropdown.vue';
import { useProject } from '../../stores/project.ts';
import { useTicketChange } from '../useTicketChange.ts';
import LightFields from './LightFields.vue';
import { domeOf, newLight } from './newLight.ts';

/** The lights that are placed: one is chosen and edited, others are added and removed. */
const props = defineProps<{ ticket: LightTicket }>();
const chosen = defineModel<number>('chosen', { required: true });
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const KINDS = optionsOf(LIGHT_LABELS);
const lights = computed(() => props.ticket.settings.lights);
const titleOf = ({ name, kind }: PlacedLight): string => name ?? LIGHT_LABELS[kind].label;

function add(kind: PlacedLight['kind']): void {
  const dome = domeOf(store.meshesByIds(props.ticket.inputs.receivers).map(({ inspection }) => inspection.bounds));
  const up = ['x', 'y', 'z'].indexOf(props.ticket.settings.up);
  change('new light', { lights: [...lights.value, newLight(kind, dome, up)] });
  chosen.value = lights.value.length - 1;
}

function set(at: number, light: PlacedLight): void {
  change(`light ${at + 1}`, { lights: lights.value.map((each, i) => (i === at ? light : each)) });
}

function remove(at: number): void {
  change('removed light', { lights: lights.value.filter((_, i) => i !== at) });
  chosen.value = Math.max(0, Math.min(chosen.value, lights.value.length - 1));
}
</script>

<template>
  <div class="lights">
    <ul aria-label="Lights">
      <li v-for="(light, i) in lights" :key="i">
        <button type="button" class="light" :aria-pressed="i === chosen" @click="chosen = i">
          <span>{{ titleOf(light) }}</span>
          <span class="soft">{{ groupOfLight(light, i) }}</span>
        </button>
        <button type="button" class="plain-button" :aria-label="`Remove ${titleOf(light)}`" @click="remove(i)">
          Remove
        </button>
      </li>
    </ul>
    <p v-if="lights.length === 0" class="soft">
      No light is placed. The environment and surfaces that shine still light.
    </p>
    <Dropdown label="Add a light" placeholder="Add a light …" :value="null" :options="KINDS" @choose="add" />
    <LightFields
      v-if="lights[chosen]"
      :key="chosen"
      :light="lights[chosen]!"
      :group="groupOfLight(lights[chosen]!, chosen)"
      @change="set(chosen, $event)"
    />
  </div>
</template>

<style scoped>
.lights {
  display: grid;
  gap: 8px;
}

li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
}

.light {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  min-height: 26px;
  padding: 2px 8px;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.light > span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.light[aria-pressed='true'] {
  border-left-color: var(--azurite);
  background: var(--paper-raised);
  font-weight: 650;
}
</style>
