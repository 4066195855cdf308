import {
  describeKind,
  MAP_KIND_IDS,
  type BlendMode,
  type HeightUnit,
  type MapKind,
  type Wrap,
} from '@zographos/core/image';

/** What one of a list of ids is called, and one line that says what it does. */
export interface Label {
  label: string;
  hint?: string;
}

/** The labels of a list of ids; they stand beside the list, and studio, server and command line show them. */
export type Labels<Id extends string> = Readonly<Record<Id, Label>>;

/** Ids with their labels, as choices are given to a control. */
export const optionsOf = <Id extends string>(
  labels: Labels<Id>,
  ids: readonly Id[] = Object.keys(labels) as Id[],
): { value: Id; label: string; hint?: string }[] => ids.map((value) => ({ value, ...labels[value] }));

/** Kinds of maps with their labels, as choices are given to a control; all of them if none are named. */
export const kindOptions = <Kind extends MapKind>(
  kinds: readonly Kind[] = MAP_KIND_IDS as unknown as readonly Kind[],
): { value: Kind; label: string; hint: string }[] =>
  kinds.map((value) => {
    const { label, hint } = describeKind(value);
    return { value, label, hint };
  });

/** In what heights are given. */
export const HEIGHT_UNIT_LABELS: Labels<HeightUnit> = {
  mesh: { label: 'mesh units' },
  tile: { label: 'of the tile width' },
  mm: { label: 'mm' },
  cm: { label: 'cm' },
  m: { label: 'm' },
  in: { label: 'in' },
};

/** Blend modes by their names in W3C Compositing and Blending Level 1. */
export const BLEND_LABELS: Labels<BlendMode> = {
  normal: { label: 'Normal' },
  multiply: { label: 'Multiply' },
  screen: { label: 'Screen' },
  overlay: { label: 'Overlay' },
  darken: { label: 'Darken' },
  lighten: { label: 'Lighten' },
  'color-dodge': { label: 'Colour dodge' },
  'color-burn': { label: 'Colour burn' },
  'hard-light': { label: 'Hard light' },
  'soft-light': { label: 'Soft light' },
  difference: { label: 'Difference' },
  exclusion: { label: 'Exclusion' },
};

/** What lies beyond the border of an image. */
export const BEYOND_LABELS: Labels<Wrap> = {
  repeat: { label: 'Repeat' },
  mirror: { label: 'Mirror' },
  clamp: { label: 'Clamp' },
};
