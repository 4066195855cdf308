import { layoutOperation } from '../layout/operation.ts';
import type { Operation } from '../operation.ts';
import { mergeSettings, type MergeSettings } from './settings.ts';

/**
 * Melts the materials of some objects into one: its result is a mesh (or as many as there were) with one material, and a
 * ticket that bakes that material's maps from the objects, which stay.
 */
export const mergeOperation: Operation<MergeSettings> = {
  kind: 'merge',
  version: 1,
  settings: mergeSettings,
  outputs: ({ maps }) => [...maps],
  goesByName: () => true,
  estimate: ({ layout }, inputs) =>
    layout ? layoutOperation.estimate(layout, inputs) : { rays: 0, memoryBytes: 220e6 },

  sentence({ name, maps, layout, size, padding, samples, keepObjects }, names) {
    const objects = names.receivers.length > 4 ? `${names.receivers.length} meshes` : names.receivers.join(', ');
    return [
      { text: 'Merge the materials of ' },
      { text: objects || 'nothing yet', slot: 'receivers' },
      { text: ' into ' },
      { text: name, slot: 'name' },
      { text: ', ' },
      { text: keepObjects ? 'its objects apart' : 'one mesh', slot: 'name' },
      { text: ': ' },
      { text: maps.join(', '), slot: 'maps' },
      { text: ' at ' },
      { text: size.width === size.height ? `${size.width} px` : `${size.width} × ${size.height} px`, slot: 'size' },
      { text: ', on ' },
      { text: layout ? 'a new layout' : 'the layout they share', slot: 'layout' },
      ...(layout
        ? [{ text: ' with ' }, { text: `${layout.gap} px`, slot: 'layout' }, { text: ' between islands' }]
        : []),
      { text: ', with ' },
      { text: `${samples} × ${samples}`, slot: 'samples' },
      { text: ' samples and ' },
      { text: padding === 'all' ? 'padding everywhere' : `${padding} px`, slot: 'padding' },
      { text: padding === 'all' ? '.' : ' padding.' },
    ];
  },
};
