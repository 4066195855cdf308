import { describeKind, phraseOfKinds } from '@zographos/core/image';
import { channelsOf, type Direction, type Layer, type LayerMask, type MaskStep } from '@zographos/core/layers';
import type { SentencePart } from '../operation.ts';
import { ADJUSTMENT_LABELS } from '../flat/adjustments.ts';
import { count, inSentence, namesText, percentText, shortNumber } from '../wording.ts';
import { HEIGHT_BLEND_LABELS, LAYER_BLEND_LABELS, PROJECTION_LABELS, SOLID_NOISE_LABELS } from './options.ts';

/** What pictures and materials of a stack are called in a sentence. */
export interface LayerNames {
  materials: readonly string[];
  pictures: readonly string[];
}

/**
 * A layer as a sentence: “Lay Red lead, triplanar, where edges are worn up to 2 mm, into base colour and roughness, at
 * 80 %.”
 */
export function layerSentence(layer: Layer, names: LayerNames): SentencePart[] {
  return [
    ...contentParts(layer, names),
    ...maskParts(layer.mask, names),
    ...(layer.content === 'group' || layer.content === 'adjustment'
      ? []
      : [{ text: ', into ' }, { text: phraseOfKinds(channelsOf(layer)) || 'nothing yet', slot: 'channels' }]),
    ...blendParts(layer),
    { text: ' at ' },
    { text: percentText(layer.opacity), slot: 'opacity' },
    { text: '.' },
  ];
}

function contentParts(layer: Layer, { materials, pictures }: LayerNames): SentencePart[] {
  switch (layer.content) {
    case 'plain':
      return [{ text: 'Lay ' }, { text: plainText(layer.values), slot: 'content' }];
    case 'tiling':
      return [
        { text: 'Lay ' },
        { text: materials[layer.material] ?? 'a material that is gone', slot: 'content' },
        { text: ', ' },
        { text: PROJECTION_LABELS[layer.projection.by].phrase, slot: 'projection' },
        ...(layer.scale === 1
          ? []
          : [{ text: ' at ' }, { text: `${percentText(layer.scale)} of its size`, slot: 'projection' }]),
      ];
    case 'picture':
      return [
        { text: 'Lay image ' },
        { text: pictures[layer.picture] ?? 'that is gone', slot: 'content' },
        { text: ' ' },
        {
          text: { layout: 'over the layout', island: 'on an island', surface: 'as a decal' }[layer.place.on],
          slot: 'place',
        },
      ];
    case 'field':
      return [
        { text: 'Lay ' },
        {
          text: `${inSentence(SOLID_NOISE_LABELS[layer.field.noise].label)} of ${lengthText(layer.field.size)}`,
          slot: 'content',
        },
      ];
    case 'painted':
      return [{ text: 'Lay ' }, { text: count(layer.strokes.length, 'painted stroke'), slot: 'content' }];
    case 'maps':
      return [{ text: 'Lay ' }, { text: 'the set’s own maps', slot: 'content' }];
    case 'adjustment':
      return [
        { text: 'Adjust ' },
        { text: phraseOfKinds(layer.channels), slot: 'channels' },
        { text: ' beneath by ' },
        {
          text: namesText(
            layer.steps.map((step) => inSentence(ADJUSTMENT_LABELS[step.do].label)),
            'step',
          ),
          slot: 'content',
        },
      ];
    case 'group':
      return [{ text: 'Lay ' }, { text: count(layer.layers.length, 'layer'), slot: 'content' }];
  }
}

function plainText(values: Readonly<Record<string, number | string | undefined>>): string {
  const color = values.basecolor ?? values.emission;
  if (color !== undefined) return `plain ${color}`;
  const known = Object.entries(values).filter(([, value]) => value !== undefined);
  return known.length > 0
    ? known.map(([kind, value]) => `${describeKind(kind as 'height').phrase} ${value}`).join(', ')
    : 'nothing yet';
}

function maskParts({ steps }: LayerMask, names: LayerNames): SentencePart[] {
  if (steps.length === 0) return [{ text: ' ' }, { text: 'everywhere', slot: 'mask' }];
  return steps.flatMap((step, i) => [
    { text: i === 0 ? ' where ' : JOINED[step.combine] },
    { text: `${step.invert ? 'not ' : ''}${stepText(step, names)}`, slot: 'mask' },
  ]);
}

const JOINED: Readonly<Record<MaskStep['combine'], string>> = {
  multiply: ' and ',
  add: ' or ',
  subtract: ' but not ',
  least: ' and ',
  most: ' or ',
  screen: ' or ',
  replace: ', or rather ',
};

/** What a step measures, as a clause that follows “where”. */
export function stepText(step: MaskStep, { pictures }: Pick<LayerNames, 'pictures'>): string {
  switch (step.measure) {
    case 'id':
      return `the ID is ${namesText(step.colors, 'colour', ' or ')}`;
    case 'slot':
      return `the slot is ${namesText(step.slots, 'slot', ' or ')}`;
    case 'object':
      return `the object is ${namesText(step.objects, 'object', ' or ')}`;
    case 'part':
      return `it is on ${count(step.triangles.length, 'part')}`;
    case 'near':
      return `it is within ${shortNumber(step.reach)} mm of ${count(step.triangles.length, 'part')}`;
    case 'island':
      return `it is on ${count(step.triangles.length, 'island')}`;
    case 'tile':
      return `the tile is ${step.tiles.join(' or ')}`;
    case 'faces':
      return `it is on ${count(
        step.ranges.reduce((sum, [from, to]) => sum + to - from, 0),
        'face',
      )}`;
    case 'map':
      return `${describeKind(step.map).phrase} goes from ${shortNumber(step.from)} to ${shortNumber(step.to)}`;
    case 'axis':
      return `${axisName(step.axis)} goes from ${lengthText(step.from)} to ${lengthText(step.to)}`;
    case 'facing':
      return `it faces ${axisName(step.direction)} within ${shortNumber(step.angle)}°`;
    case 'painted':
      return `it is painted in ${count(step.strokes.length, 'stroke')}`;
    case 'field':
      return `${inSentence(SOLID_NOISE_LABELS[step.field.noise].label)} of ${lengthText(step.field.size)} is light`;
    case 'picture':
      return `image ${pictures[step.picture] ?? 'that is gone'} is light`;
    case 'wear':
      return `edges are worn to ${lengthText(step.radius)}`;
    case 'dust':
      return `dust settles up to ${shortNumber(step.angle)}°`;
    case 'sunFade':
      return `the sun fades it by ${percentText(step.amount)}`;
    case 'runs':
      return `it runs down ${lengthText(step.length)} from ${sourcesText(step.from)}`;
    case 'spreading':
      return `it spreads ${lengthText(step.reach)} from ${count(step.seeds, 'seed')} ${sourcesText(step.from)}`;
    case 'waterline':
      return `it lies below ${lengthText(step.level)} along ${axisName(step.axis)}`;
  }
}

/** Where a process begins, as a phrase. */
const sourcesText = (steps: readonly MaskStep[]): string =>
  steps.length === 0
    ? 'anywhere'
    : `places where ${steps.map((step) => `${step.invert ? 'not ' : ''}${stepText(step, { pictures: [] })}`).join(' and ')}`;

function blendParts(layer: Layer): SentencePart[] {
  const parts: SentencePart[] = [];
  if (layer.blend !== 'normal')
    parts.push({ text: ' as ' }, { text: inSentence(LAYER_BLEND_LABELS[layer.blend].label), slot: 'blend' });
  if (layer.heightBlend !== 'add' && channelsOf(layer).includes('height')) {
    parts.push(
      { text: ', height as ' },
      { text: inSentence(HEIGHT_BLEND_LABELS[layer.heightBlend].label), slot: 'blend' },
    );
  }
  return parts;
}

const lengthText = (millimetres: number): string => `${shortNumber(millimetres)} mm`;

function axisName([x, y, z]: Direction): string {
  const known = [
    ['+X', x > 0 && y === 0 && z === 0],
    ['−X', x < 0 && y === 0 && z === 0],
    ['+Y', y > 0 && x === 0 && z === 0],
    ['−Y', y < 0 && x === 0 && z === 0],
    ['+Z', z > 0 && x === 0 && y === 0],
    ['−Z', z < 0 && x === 0 && y === 0],
  ].find(([, is]) => is);
  return known ? String(known[0]) : `(${[x, y, z].map(shortNumber).join(', ')})`;
}
