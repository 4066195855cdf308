import type { Operation } from '../operation.ts';
import { deliverSettings, type DeliverSettings } from './settings.ts';

/** A running Node process, and one file at a time with the maps it holds. */
const BYTES = 220e6 + 4096 ** 2 * 4 * 16;

/** Packs and names the maps of sets as somebody wants them; done once, with the maps as they are then. */
export const deliverOperation: Operation<DeliverSettings> = {
  kind: 'deliver',
  version: 1,
  settings: deliverSettings,
  outputs: () => [],
  goesByName: () => true,
  estimate: () => ({ rays: 0, memoryBytes: BYTES }),
  sentence: ({ profile, sets }) => [
    { text: 'Deliver ' },
    { text: sets.length === 1 ? 'one image set' : `${sets.length} image sets`, slot: 'sets' },
    { text: ' as ' },
    { text: profile.name, slot: 'profile' },
    { text: '.' },
  ],
};
