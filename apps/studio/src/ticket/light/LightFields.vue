<script setup lang="ts">
import InputText from 'primevue/inputtext';
import { computed } from 'vue';
import { LIGHT_LABELS, type PlacedLight } from '@zographos/operations';
import ColorField from '../../controls/ColorField.vue';
import NameField from '../../controls/NameField.vue';
import NumberField from '../../controls/NumberField.vue';
import { joinStrength, splitStrength } from './lightStrength.ts';
import PlaceFields from './PlaceFields.vue';

/** What one light is like. */
const props = defineProps<{ light: PlacedLight; group: string }>();
const emit = defineEmits<{ change: [PlacedLight] }>();

type Field = { name: string; label: string; suffix?: string; min: number; max: number; step?: number; factor?: number };
const LENGTH = { min: 1e-4, max: 1e9 };
/** Numbers of each kind of light. */
const FIELDS: Record<PlacedLight['kind'], readonly Field[]> = {
  sun: [
    { name: 'elevation', label: 'Above the horizon', suffix: ' °', min: -90, max: 90 },
    { name: 'azimuth', label: 'Clockwise from north', suffix: ' °', min: -360, max: 360 },
    { name: 'angle', label: 'Seen under', suffix: ' °', min: 0, max: 180, step: 0.1 },
  ],
  point: [],
  sphere: [{ name: 'radius', label: 'Radius', ...LENGTH }],
  disk: [{ name: 'radius', label: 'Radius', ...LENGTH }],
  rectangle: [
    { name: 'width', label: 'Width', ...LENGTH },
    { name: 'height', label: 'Height', ...LENGTH },
  ],
  spot: [
    { name: 'angle', label: 'Cone', suffix: ' °', min: 0.1, max: 180 },
    { name: 'softness', label: 'Soft edge', suffix: ' %', min: 0, max: 1, factor: 100 },
  ],
};
/** What the strength of each kind is a measure of. */
const STRENGTHS: Record<PlacedLight['kind'], string> = {
  sun: 'irradiance of a surface that faces it',
  point: 'radiant intensity',
  sphere: 'radiant intensity',
  disk: 'radiant intensity along its axis',
  rectangle: 'radiant intensity along its axis',
  spot: 'radiant intensity along its axis',
};
const strength = computed(() => splitStrength(props.light.strength));
const valueOf = ({ name, factor = 1 }: Field): number =>
  (props.light as unknown as Record<string, number>)[name]! * factor;

// A number of one kind of light with another value is a light of that kind.
const set = (part: object): void => emit('change', { ...props.light, ...part });

/** Files are named after groups: of other characters there is none. */
function setGroup({ target }: Event): void {
  const group = (target as HTMLInputElement).value.trim().replace(/[^\p{L}\p{N}_-]+/gu, '-');
  const light = { ...props.light };
  if (group) light.group = group;
  else delete light.group;
  emit('change', light);
}

function setName(name: string): void {
  const light = { ...props.light };
  if (name === LIGHT_LABELS[light.kind].label) delete light.name;
  else light.name = name;
  emit('change', light);
}
</script>

<template>
  <div class="fields">
    <label
      >Name
      <NameField
        label="Name of the light"
        :value="light.name ?? LIGHT_LABELS[light.kind].label"
        :usual="LIGHT_LABELS[light.kind].label"
        :length="60"
        @change="setName"
      />
    </label>
    <label
      >Light group
      <InputText :model-value="group" maxlength="60" size="small" aria-label="Light group" @change="setGroup" />
    </label>
    <label>
      <span>Colour</span>
      <ColorField
        label="Colour of the light"
        :value="strength.color"
        @change="set({ strength: joinStrength(strength.amount, $event) })"
      />
    </label>
    <NumberField
      v-tooltip="STRENGTHS[light.kind]"
      label="Strength"
      :min="0"
      :max="1e9"
      :digits="4"
      :value="strength.amount"
      @change="$event !== null && set({ strength: joinStrength($event, strength.color) })"
    />
    <NumberField
      v-for="field in FIELDS[light.kind]"
      :key="field.name"
      :label="field.label"
      :suffix="field.suffix ?? ''"
      :min="field.min * (field.factor ?? 1)"
      :max="field.max * (field.factor ?? 1)"
      :step="field.step ?? 1"
      :digits="3"
      :value="valueOf(field)"
      @change="$event !== null && set({ [field.name]: $event / (field.factor ?? 1) })"
    />
    <PlaceFields
      v-if="light.kind !== 'sun'"
      label="Place"
      :place="light.position"
      @change="set({ position: $event })"
    />
    <PlaceFields v-if="'target' in light" label="Towards" :place="light.target" @change="set({ target: $event })" />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 6px;
  padding-top: 6px;
  border-top: 1px solid var(--line);
}

label {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
}

.fields :deep(.p-inputtext) {
  min-width: 0;
}

.fields :deep(.number-field input),
label > :deep(.p-inputtext) {
  width: 112px;
}
</style>
