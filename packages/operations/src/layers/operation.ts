import { describeKind, phraseOfKinds } from '@zographos/core/image';
import { channelsOf, channelsOfStack, everyLayer, isOwnMask, LAYER_CHANNELS } from '@zographos/core/layers';
import { resolveTiles } from '../bake/resolveTiles.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { count, namesText, sizeText } from '../wording.ts';
import { estimateLayers } from './estimate.ts';
import { layersReport } from './report.ts';
import { layersSettings, type LayersSettings } from './settings.ts';

/** Layers on an image set: finished maps of a receiver, or of a tile that repeats. */
export const layersOperation = defineOperation({
  kind: 'layers',
  version: 1,
  ticket: 'set',
  settings: layersSettings,
  report: layersReport,
  outputs: (settings) => channelsOfStack(settings),
  resolve: resolveTiles,
  // Masks go by the names of objects and slots, which are in the content of meshes.
  estimate: estimateLayers,
  sentence,
  moreSentences,
  load: () => import('#run/layers'),
});

function sentence(settings: LayersSettings, { receivers }: SentenceNames): SentencePart[] {
  const { layers, size } = settings;
  return [
    { text: 'Lay ' },
    { text: count(layers.length, 'layer'), slot: 'layers' },
    { text: ' on ' },
    { text: receivers.length > 0 ? namesText(receivers, 'mesh') : 'a flat tile', slot: 'layers' },
    { text: ' into ' },
    { text: phraseOfKinds(channelsOfStack(settings)) || 'no map yet', slot: 'layers' },
    { text: ' at ' },
    { text: sizeText(size), slot: 'size' },
    ...ownMasks(layers),
    { text: '.' },
  ];
}

/** Says which layers each own mask is of: whoever gets the masks has nothing else to tell them apart by. */
function ownMasks(layers: LayersSettings['layers']): SentencePart[] {
  const all = [...everyLayer(layers)].filter(({ visible, content }) => visible && content !== 'group');
  const said = LAYER_CHANNELS.filter(isOwnMask).flatMap((channel) => {
    const names = all.filter((layer) => channelsOf(layer).includes(channel)).map(({ name }) => `“${name}”`);
    return names.length > 0 ? [`${describeKind(channel).phrase} of ${names.join(', ')}`] : [];
  });
  return said.length > 0 ? [{ text: `, with ${said.join(' and ')}` }] : [];
}

function moreSentences(settings: LayersSettings, names: SentenceNames): SentencePart[][] {
  const { tiles, uvSet, padding, oversize, mixing } = settings;
  return [
    [
      { text: 'On ' },
      { text: names.uvSets?.[uvSet] ?? `UV set ${uvSet + 1}`, slot: 'uvSet' },
      { text: ' in ' },
      {
        text: tiles === 'all' ? 'all UDIM tiles' : `${tiles.length === 1 ? 'tile' : 'tiles'} ${tiles.join(', ')}`,
        slot: 'tiles',
      },
      { text: ', with ' },
      { text: padding === 'all' ? 'padding over the whole map' : `${padding} px padding`, slot: 'padding' },
      { text: ', ' },
      { text: oversize === 1 ? 'one sample per texel' : '2 × supersampling', slot: 'oversize' },
      { text: '. Colours mix ' },
      { text: mixing === 'seen' ? 'in sRGB' : 'in linear light', slot: 'mixing' },
      { text: '.' },
    ],
  ];
}
