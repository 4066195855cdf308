import type { FieldKind, FieldWrap, NOISE_STYLES, RAMP_WAYS } from '@zographos/core/pattern';
import type { Label, Labels } from '../labels.ts';

/** What a layer of a procedural texture draws. */
export const FIELD_LABELS: Labels<FieldKind> = {
  'gradient-noise': { label: 'Gradient noise' },
  'simplex-noise': { label: 'Simplex noise' },
  cells: { label: 'Cellular noise' },
  cracks: { label: 'Cracks' },
  bricks: { label: 'Bricks' },
  scales: { label: 'Fish scales' },
  weave: { label: 'Weave' },
  dots: { label: 'Dots' },
  grid: { label: 'Grid' },
  gradient: { label: 'Gradient' },
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
