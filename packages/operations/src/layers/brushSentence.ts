import type { Brush, BrushPicture, BrushTool, FillReach, Paint, Symmetry } from '@zographos/core/layers';
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

/**
 * A brush as a sentence: “Paint soft dabs of 24 mm, 60 % strong, one every 6 mm, with #e7e1d2; not mirrored.”
 * @param picture name of the picture on it
 */
export function brushSentence(brush: Brush, paint: Paint, picture: string | null): SentencePart[] {
  const { tool, radius, hardness, strength, spacing } = brush;
  const lays = tool === 'paint' || tool === 'fill';
  const dabs: SentencePart[] =
    tool === 'fill'
      ? [{ text: FILL_PHRASES[brush.fill], slot: 'fill' }]
      : [
          { text: `${hardness > 0.8 ? 'hard' : hardness < 0.3 ? 'very soft' : 'soft'} dabs`, slot: 'dab' },
          { text: ' of ' },
          { text: `${shortNumber(radius)} mm`, slot: 'dab' },
          { text: ', ' },
          { text: `${percentText(strength)} strong`, slot: 'strength' },
          { text: ', one every ' },
          { text: `${shortNumber(radius * spacing)} mm`, slot: 'spacing' },
        ];
  return [
    { text: `${BRUSH_TOOL_LABELS[tool].label} ` },
    ...dabs,
    ...(lays ? [{ text: ', with ' }, { text: paintText(paint), slot: 'paint' }] : []),
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

function paintText(paint: Paint): string {
  if ('grey' in paint) return `mask value ${percentText(paint.grey)}`;
  const { basecolor, ...rest } = paint;
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
