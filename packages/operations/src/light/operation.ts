import { phraseOfKinds, type MapKind } from '@zographos/core/image';
import { resolveTiles } from '../bake/resolveTiles.ts';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { count, inSentence, namesText, percentText, shortNumber, sizeText } from '../wording.ts';
import { estimateLight } from './estimate.ts';
import { groupNames } from './scene/lightGroups.ts';
import { ENVIRONMENT_LABELS, GROUP_KINDS, KIND_OF_PASS, LIGHT_LABELS } from './options.ts';
import { lightReport } from './report.ts';
import { lightSettings, type LightSettings, type PlacedLight } from './settings.ts';

/** Bakes the light that receivers send, whole or in passes. */
export const lightOperation = defineOperation({
  kind: 'light',
  version: 1,
  ticket: 'lit',
  settings: lightSettings,
  report: lightReport,
  outputs: (settings) => kindsOfLight(settings),
  resolve: resolveTiles,
  estimate: estimateLight,
  sentence,
  moreSentences,
  load: () => import('#run/light'),
});

/** The kinds of maps that a bake of light makes, in the order in which they are made. */
export function kindsOfLight(settings: Pick<LightSettings, 'passes' | 'lights'>): MapKind[] {
  return settings.passes.flatMap((pass): readonly MapKind[] =>
    pass === 'groups' ? GROUP_KINDS.slice(0, groupNames(settings).length) : [KIND_OF_PASS[pass]],
  );
}

function sentence(settings: LightSettings, { receivers, sources, pictures = [] }: SentenceNames): SentencePart[] {
  const { passes, samples, noise, size } = settings;
  const words = passes.map((pass) => (pass === 'groups' ? 'each light group' : phraseOfKinds([KIND_OF_PASS[pass]])));
  const text =
    words.length > 3 ? `${words[0]!} and ${count(words.length - 1, 'more pass', 'more passes')}` : words.join(', ');
  return [
    { text: 'Light ' },
    { text: namesText(receivers, 'mesh'), slot: 'receivers' },
    { text: ', beside ' },
    { text: sources.length > 0 ? namesText(sources, 'mesh') : 'nothing else', slot: 'sources' },
    { text: ', by ' },
    { text: environmentText(settings, pictures[0]), slot: 'environment' },
    { text: ' and ' },
    { text: lightsText(settings.lights), slot: 'lights' },
    { text: ', into ' },
    { text, slot: 'passes' },
    { text: ' at ' },
    { text: sizeText(size), slot: 'size' },
    { text: ' with ' },
    {
      text: `${count(samples, 'sample')}${noise > 0 ? ` or down to ${percentText(noise)} noise` : ''}`,
      slot: 'samples',
    },
    { text: '.' },
  ];
}

function environmentText({ environment }: LightSettings, picture: string | undefined): string {
  if (environment.kind === 'none') return 'no environment';
  if (environment.kind === 'picture') return picture ? `the surroundings in ${picture}` : 'an image yet to be chosen';
  const label = inSentence(ENVIRONMENT_LABELS[environment.kind].label);
  return /^[aeiou]/.test(label) && environment.kind !== 'uniform' ? `an ${label}` : `a ${label}`;
}

/** “a sun and a disk light”, “3 lights”. */
function lightsText(lights: readonly PlacedLight[]): string {
  if (lights.length === 0) return 'no lights';
  if (lights.length > 2) return count(lights.length, 'light');
  return lights
    .map(({ name, kind }) => (name ? `“${name}”` : `a ${inSentence(LIGHT_LABELS[kind].label)}`))
    .join(' and ');
}

function moreSentences(settings: LightSettings, names: SentenceNames): SentencePart[][] {
  const { tiles, uvSet, uvWindow, padding, seenFrom, faces, bounces, denoise, materials } = settings;
  const [left, lower, width, height] = uvWindow;
  const isWhole = left === 0 && lower === 0 && width === 1 && height === 1;
  return [
    [
      { text: 'Seen ' },
      {
        text: seenFrom === 'normal' ? 'along its normals' : `from an eye at ${seenFrom.map(shortNumber).join(', ')}`,
        slot: 'seenFrom',
      },
      { text: ', ' },
      { text: faces === 'both' ? 'both sides' : `its ${faces}`, slot: 'seenFrom' },
      { text: ', after up to ' },
      { text: count(bounces, 'bounce'), slot: 'samples' },
      { text: '; made of ' },
      {
        text: materials === 'maps' ? 'the maps of image sets' : 'the materials of the meshes',
        slot: 'materials',
      },
      { text: '; ' },
      { text: denoise > 0 ? `denoised by ${percentText(denoise)}` : 'not denoised', slot: 'denoise' },
      { text: '.' },
    ],
    [
      { text: 'On ' },
      { text: names.uvSets?.[uvSet] ?? `UV set ${uvSet + 1}`, slot: 'uvSet' },
      { text: ' in ' },
      {
        text: tiles === 'all' ? 'all UDIM tiles' : `${tiles.length === 1 ? 'tile' : 'tiles'} ${tiles.join(', ')}`,
        slot: 'tiles',
      },
      { text: ', ' },
      {
        text: isWhole
          ? 'the whole of it'
          : `the part from ${shortNumber(left)}, ${shortNumber(lower)}, ${shortNumber(width)} × ${shortNumber(height)}`,
        slot: 'uvWindow',
      },
      { text: ', with ' },
      { text: padding === 'all' ? 'padding over the whole map' : `${padding} px padding`, slot: 'padding' },
      { text: '.' },
    ],
  ];
}
