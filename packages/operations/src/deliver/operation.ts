import { defineOperation } from '../operation.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { count } from '../wording.ts';
import { deliveryReport } from './report.ts';
import { deliverSettings } from './settings.ts';

/** One file at a time with the maps it holds. */
const BYTES = 4096 ** 2 * 4 * 16;

/** Packs and names the maps of sets as a recipient wants them; done once, with the maps as they are then. */
export const deliverOperation = defineOperation({
  kind: 'deliver',
  version: 1,
  ticket: null,
  settings: deliverSettings,
  report: deliveryReport,
  outputs: () => [],
  goesByName: () => true,
  estimate: () => ({ rays: 0, memoryBytes: BASE_BYTES + BYTES }),
  sentence: ({ profile, sets }) => [
    { text: 'Deliver ' },
    { text: count(sets.length, 'image set'), slot: 'sets' },
    { text: ' as ' },
    { text: profile.name, slot: 'profile' },
    { text: '.' },
  ],
  load: () => import('#run/deliver'),
});
