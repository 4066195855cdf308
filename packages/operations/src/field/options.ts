import type { FieldKind, FieldWrap, GrungeKind, NOISE_STYLES, RAMP_WAYS } from '@zographos/core/pattern';
import type { Label, Labels } from '../labels.ts';

/** What a layer of a procedural texture draws. */
export const FIELD_LABELS: Labels<FieldKind> = {
  'gradient-noise': { label: 'Gradient noise' },
  'simplex-noise': { label: 'Simplex noise' },
  cells: { label: 'Cellular noise' },
  cracks: { label: 'Cracks' },
  folds: { label: 'Folds' },
  grunge: { label: 'Grunge' },
  scratches: { label: 'Scratches' },
  fibres: { label: 'Fibres' },
  bricks: { label: 'Bricks' },
  planks: { label: 'Planks' },
  scales: { label: 'Fish scales' },
  weave: { label: 'Weave' },
  dots: { label: 'Dots' },
  grid: { label: 'Grid' },
  gradient: { label: 'Gradient' },
  picture: { label: 'Image or SVG, repeated' },
};

/** How it tiles: the surface over which it is asked for. */
export const WRAP_LABELS: Readonly<Record<FieldWrap, Label & { phrase: string }>> = {
  none: { label: 'Off', phrase: 'not tiling' },
  cylinder: { label: 'Horizontal (cylinder)', phrase: 'tiling horizontally' },
  torus: { label: 'Both, distorted (torus)', phrase: 'tiling in both directions over a torus' },
  'flat-torus': { label: 'Both, undistorted (4D)', phrase: 'tiling in both directions' },
};

export const NOISE_STYLE_LABELS: Labels<(typeof NOISE_STYLES)[number]> = {
  smooth: { label: 'Smooth' },
  ridged: { label: 'Ridged' },
  billowed: { label: 'Billowed' },
};

export const GRUNGE_LABELS: Labels<GrungeKind> = {
  stains: { label: 'Stains with rims' },
  specks: { label: 'Specks' },
  streaks: { label: 'Streaks' },
  worn: { label: 'Frayed wear' },
  smudges: { label: 'Smudges' },
};

/** What a map of a procedural texture shows. */
export const MAP_CONTENTS = ['values', 'elements'] as const;
export const MAP_CONTENT_LABELS: Labels<(typeof MAP_CONTENTS)[number]> = {
  values: { label: 'Values' },
  elements: { label: 'Element IDs', hint: 'a colour or a random grey for each brick, cell, scale or fibre' },
};

export const CELL_MEASURES = ['nearest', 'second', 'border', 'flat'] as const;
export const CELL_MEASURE_LABELS: Labels<(typeof CELL_MEASURES)[number]> = {
  nearest: { label: 'Nearest point (F1)' },
  second: { label: 'Second nearest (F2)' },
  border: { label: 'Cell borders' },
  flat: { label: 'Random value per cell' },
};

export const RAMP_WAY_LABELS: Labels<(typeof RAMP_WAYS)[number]> = {
  across: { label: 'Horizontal' },
  up: { label: 'Vertical' },
  round: { label: 'Radial' },
  wave: { label: 'Sine wave' },
};
