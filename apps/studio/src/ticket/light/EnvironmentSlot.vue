<script setup lang="ts">
import { computed } from 'vue';
import type { LightTicket } from '@zographos/contracts';
import { ENVIRONMENT_LABELS, lightSettings, optionsOf, type LightSettings } from '@zographos/operations';
import Dropdown from '../../controls/Dropdown.vue';
import NumberField from '../../controls/NumberField.vue';
import { limitsOf } from '../../controls/limits.ts';
import { useProject } from '../../stores/project.ts';
import PictureChooser from '../PictureChooser.vue';
import { useTicketChange } from '../useTicketChange.ts';

type Environment = LightSettings['environment'];

/** What lies all around: a sky made by code, or an image of it. */
const props = defineProps<{ ticket: LightTicket }>();
const store = useProject();
const { change } = useTicketChange(() => props.ticket);
const KINDS = optionsOf(ENVIRONMENT_LABELS);
const STRENGTH = limitsOf(lightSettings, 'environmentStrength');
const TURN = limitsOf(lightSettings, 'environmentTurn');
const environment = computed(() => props.ticket.settings.environment);
const picture = computed(() =>
  environment.value.kind === 'picture' ? (props.ticket.inputs.pictures?.[0] ?? null) : null,
);

function choose(kind: Environment['kind']): void {
  const usual: Environment = kind === 'none' || kind === 'picture' ? { kind } : { kind, elevation: 45 };
  change('environment', { environment: usual });
}

/** The image comes first among those of the ticket; the server fills in the others. */
function setPicture(id: string): void {
  const { settings, inputs } = props.ticket;
  void store.changeTicket(props.ticket.id, 'environment', {
    settings: { ...settings, environment: { kind: 'picture' } },
    inputs: { ...inputs, pictures: [id] },
  });
}
</script>

<template>
  <div class="editor">
    <h3>Environment</h3>
    <Dropdown label="Environment" :value="environment.kind" :options="KINDS" @choose="choose" />
    <template v-if="environment.kind === 'picture'">
      <PictureChooser :image="picture" @choose="$event && setPicture($event)" />
      <p class="soft">
        A picture of all directions, twice as wide as high, with the zenith at the top. HDR and EXR hold light; others
        what a screen shows of it.
      </p>
    </template>
    <NumberField
      v-if="environment.kind === 'clear'"
      label="Sun above the horizon"
      suffix=" °"
      :min="0"
      :max="90"
      :digits="1"
      :value="environment.elevation"
      @change="$event !== null && change('environment', { environment: { kind: 'clear', elevation: $event } })"
    />
    <template v-if="environment.kind !== 'none'">
      <NumberField
        v-bind="STRENGTH"
        label="Times its light"
        :digits="3"
        :step="0.1"
        :value="ticket.settings.environmentStrength"
        @change="$event !== null && change('environment strength', { environmentStrength: $event })"
      />
      <NumberField
        v-bind="TURN"
        label="Turned by"
        suffix=" °"
        :digits="1"
        :step="5"
        :value="ticket.settings.environmentTurn"
        @change="$event !== null && change('environment turn', { environmentTurn: $event })"
      />
    </template>
  </div>
</template>
