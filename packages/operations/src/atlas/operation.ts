import { defineOperation, type SentencePart } from '../operation.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { count, inSentence, namesText, sizeText } from '../wording.ts';
import { gutterOf } from './atlasPlaces.ts';
import { ARRANGEMENT_LABELS } from './options.ts';
import { atlasReport } from './report.ts';
import { atlasSettings, type AtlasSettings } from './settings.ts';

/** Of one map at a time: floats, states, and what storing needs. */
const BYTES_PER_TEXEL = 40;

/**
 * Places whole image sets into one atlas: its result is a mesh whose UVs are moved by the same placement, and an image set
 * with every map of the atlas.
 */
export const atlasOperation = defineOperation({
  kind: 'atlas',
  version: 1,
  ticket: null,
  settings: atlasSettings,
  report: atlasReport,
  outputs: () => [],
  goesByName: () => true,
  estimate: ({ size: { width, height } }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + 2 * width * height * BYTES_PER_TEXEL,
  }),
  sentence,
  load: () => import('#run/atlas'),
});

function sentence(settings: AtlasSettings): SentencePart[] {
  const { name, sets, size, arrangement, halvings, resample } = settings;
  const names = sets.map((set) => set.name);
  return [
    { text: 'Place ' },
    { text: namesText(names, 'image set'), slot: 'sets' },
    { text: ' into one atlas ' },
    { text: name, slot: 'name' },
    { text: ' of ' },
    { text: sizeText(size), slot: 'size' },
    { text: ', ' },
    {
      text: inSentence(ARRANGEMENT_LABELS[typeof arrangement === 'string' ? arrangement : 'own'].label),
      slot: 'arrangement',
    },
    { text: ', with ' },
    {
      text: halvings === null ? 'no gutter' : `a ${gutterOf(settings)} px gutter (${count(halvings, 'mip level')})`,
      slot: 'halvings',
    },
    { text: ', ' },
    {
      text: arrangement === 'trims' ? 'fitted to its width' : resample ? 'resampled to fit' : 'without resampling',
      slot: 'resample',
    },
    { text: '.' },
  ];
}
