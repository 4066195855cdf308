import {
  tilingOf,
  type Brush,
  type BrushPicture,
  type BrushTool,
  type FillReach,
  type Paint,
  type PaintedValues,
  type Symmetry,
  type Variation,
} from '@zographos/core/layers';
import type { Labels } from '../labels.ts';
import type { SentencePart } from '../operation.ts';
import { percentText, shortNumber } from '../wording.ts';

/** What a stroke does. */
export const BRUSH_TOOL_LABELS: Labels<BrushTool> = {
  paint: { label: 'Paint', hint: 'lays paint on' },
  erase: { label: 'Erase', hint: 'takes away what was painted on this layer' },
  fill: { label: 'Fill', hint: 'fills faces that are clicked' },
  blur: { label: 'Blur', hint: 'softens what lies beneath' },
  smear: { label: 'Smear', hint: 'draws along what lies beneath' },
  clone: { label: 'Clone', hint: 'lays on what lies elsewhere; Alt and a click choose where' },
};

export const FILL_LABELS: Labels<FillReach> = {
  face: { label: 'Face' },
  angle: { label: 'Smooth faces' },
  part: { label: 'Part' },
  island: { label: 'UV island' },
  slot: { label: 'Slot' },
  object: { label: 'Object' },
};

/** What makes something of a brush differ from dab to dab. */
export const VARIATION_LABELS: Labels<Variation['by']> = {
  random: { label: 'Random' },
  pressure: { label: 'By pressure' },
};

export const PICTURE_LIES_LABELS: Labels<BrushPicture['lies']> = {
  dab: { label: 'Each dab' },
  surface: { label: 'Tiled' },
  view: { label: 'Stencil' },
};

const FILL_PHRASES: Readonly<Record<FillReach, string>> = {
  face: 'a face alone',
  angle: 'faces beyond smooth edges',
  part: 'the whole part',
  island: 'the whole island',
  slot: 'the whole slot',
  object: 'the whole object',
};

/** What a sentence about a brush says beside the brush itself. */
export interface BrushNames {
  /** Of the picture on it; null without one. */
  picture: string | null;
  /** Of the tiling material that is its paint; undefined for one that is gone. */
  material?: string | undefined;
  /** Its radius in pixels of the screen, where it has one. */
  screenRadius?: number | null;
}

/** A brush as a sentence: “Paint soft dabs of 24 mm, 60 % strong by pressure, one every 6 mm, with #e7e1d2; not mirrored.” */
export function brushSentence(brush: Brush, paint: Paint, names: BrushNames): SentencePart[] {
  const { tool, radius, hardness, strength, spacing, varies } = brush;
  const { picture, material = 'that is gone', screenRadius } = names;
  const [shown, unit] = typeof screenRadius === 'number' ? [screenRadius, 'px'] : [radius, 'mm'];
  const lays = tool === 'paint' || tool === 'fill';
  const dabs: SentencePart[] =
    tool === 'fill'
      ? [{ text: FILL_PHRASES[brush.fill], slot: 'fill' }]
      : [
          { text: `${hardness > 0.8 ? 'hard' : hardness < 0.3 ? 'very soft' : 'soft'} dabs`, slot: 'dab' },
          { text: ' of ' },
          { text: `${shortNumber(shown)} ${unit}${varied(varies.radius)}`, slot: 'dab' },
          { text: ', ' },
          { text: `${percentText(strength)} strong${varied(varies.strength ?? varies.flow)}`, slot: 'strength' },
          { text: ', one every ' },
          { text: `${shortNumber(shown * spacing)} ${unit}${varied(varies.spacing)}`, slot: 'spacing' },
        ];
  return [
    { text: `${BRUSH_TOOL_LABELS[tool].label} ` },
    ...dabs,
    ...(lays ? [{ text: ', with ' }, { text: paintText(paint, material), slot: 'paint' }] : []),
    ...(tool === 'erase' || lays
      ? [
          { text: ', ' },
          { text: picture === null ? 'no image' : `image ${picture}, ${pictureText(brush.picture)}`, slot: 'picture' },
        ]
      : []),
    { text: '; ' },
    { text: symmetryText(brush.symmetry), slot: 'symmetry' },
    { text: '.' },
  ];
}

const varied = (variation: Variation | undefined): string => {
  if (!variation) return '';
  return variation.by === 'pressure' ? ' by pressure' : ' at random';
};

function paintText(paint: Paint, material: string): string {
  if ('grey' in paint) return `mask value ${percentText(paint.grey)}`;
  if (tilingOf({ paint })) return `material ${material}`;
  const { basecolor, ...rest } = paint as PaintedValues;
  const others = Object.keys(rest).length;
  const more = others === 0 ? '' : ` and ${others} more`;
  return basecolor === undefined ? `${others || 'no'} values` : `${basecolor}${more}`;
}

function pictureText(picture: BrushPicture | null): string {
  if (!picture) return '';
  const lies = { dab: 'anew for each dab', surface: `tiled at ${shortNumber(picture.width)} mm`, view: 'as a stencil' };
  return `${lies[picture.lies]} as ${picture.gives}`;
}

function symmetryText(symmetry: Symmetry | null): string {
  if (!symmetry) return 'not mirrored';
  const axis = 'XYZ'[symmetry.axis];
  return symmetry.by === 'mirror' ? `mirrored along ${axis}` : `turned ${symmetry.times} times about ${axis}`;
}
