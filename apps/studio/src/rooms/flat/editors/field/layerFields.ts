import type { FieldKind, FieldLayer } from '@zographos/core/pattern';
import { fieldSettings } from '@zographos/operations';
import { amountField } from '../../../../controls/amountField.ts';

const THIN = { slider: [0.0005, 0.02], percent: true, digits: 2 } as const;
const AMOUNTS = {
  scale: amountField(fieldSettings, 'layers.0.scale', 'Cells across', { slider: [1, 64] }),
  gain: amountField(fieldSettings, 'layers.0.gain', 'Gain'),
  lacunarity: amountField(fieldSettings, 'layers.0.lacunarity', 'Lacunarity'),
  jitter: amountField(fieldSettings, 'layers.0.jitter', 'Jitter'),
  shift: amountField(fieldSettings, 'layers.0.shift', 'Row offset'),
  line: amountField(fieldSettings, 'layers.0.line', 'Joint width', { slider: [0, 0.6] }),
  thread: amountField(fieldSettings, 'layers.0.thickness', 'Thread width', { slider: [0.05, 1] }),
  dot: amountField(fieldSettings, 'layers.0.thickness', 'Dot size', { slider: [0.05, 1] }),
  motif: amountField(fieldSettings, 'layers.0.thickness', 'Size in its cell', { percent: true }),
  bevel: amountField(fieldSettings, 'layers.0.bevel', 'Bevel'),
  cover: amountField(fieldSettings, 'layers.0.cover', 'Coverage', { percent: true }),
  length: amountField(fieldSettings, 'layers.0.length', 'Length, of the tile', { percent: true, digits: 1 }),
  width: amountField(fieldSettings, 'layers.0.width', 'Width, of the tile', THIN),
  curl: amountField(fieldSettings, 'layers.0.curl', 'Curl'),
  direction: amountField(fieldSettings, 'layers.0.direction', 'Direction', { suffix: '°', digits: 0 }),
  spread: amountField(fieldSettings, 'layers.0.spread', 'Random direction', { percent: true }),
} as const;

const VARIATIONS = {
  tone: amountField(fieldSettings, 'layers.0.elements.tone', 'Random tone', { percent: true }),
  tilt: amountField(fieldSettings, 'layers.0.elements.tilt', 'Random tilt', { percent: true }),
  offset: amountField(fieldSettings, 'layers.0.elements.offset', 'Random offset', { percent: true }),
  length: amountField(fieldSettings, 'layers.0.elements.offset', 'Random length', { percent: true }),
} as const;

/** The whole numbers of layers with their labels. */
export const COUNT_LABELS = {
  columns: 'Columns',
  rows: 'Rows',
  octaves: 'Octaves',
  over: 'Threads passed over',
  times: 'Repeats',
  count: 'Number of lines',
  seed: 'Seed',
} as const satisfies Partial<Record<keyof FieldLayer, string>>;

interface LayerFields {
  amounts: (keyof typeof AMOUNTS)[];
  counts: (keyof typeof COUNT_LABELS)[];
  /** How its elements differ. */
  variations?: (keyof typeof VARIATIONS)[];
}

const NOISE: LayerFields = { amounts: ['scale', 'gain', 'lacunarity'], counts: ['octaves', 'seed'] };
const LINES: LayerFields = {
  amounts: ['length', 'width', 'curl', 'direction', 'spread'],
  counts: ['count', 'seed'],
  variations: ['tone', 'length'],
};
const FIELDS: Record<FieldKind, LayerFields> = {
  'gradient-noise': NOISE,
  'simplex-noise': NOISE,
  cells: { amounts: ['scale', 'jitter'], counts: ['seed'], variations: ['tone', 'tilt'] },
  cracks: { amounts: ['scale', 'jitter', 'line', 'bevel'], counts: ['seed'], variations: ['tone', 'tilt'] },
  folds: { amounts: ['scale', 'gain', 'lacunarity', 'direction', 'spread'], counts: ['octaves', 'seed'] },
  grunge: { amounts: ['scale', 'cover'], counts: ['seed'] },
  scratches: LINES,
  fibres: LINES,
  bricks: {
    amounts: ['shift', 'line', 'bevel'],
    counts: ['columns', 'rows', 'seed'],
    variations: ['tone', 'tilt', 'offset'],
  },
  planks: { amounts: ['line', 'bevel'], counts: ['columns', 'rows', 'seed'], variations: ['tone', 'tilt', 'offset'] },
  scales: { amounts: [], counts: ['columns', 'rows', 'seed'], variations: ['tone', 'tilt', 'offset'] },
  weave: { amounts: ['thread'], counts: ['columns', 'rows', 'over'] },
  dots: { amounts: ['dot', 'shift', 'bevel'], counts: ['columns', 'rows'] },
  grid: { amounts: ['line', 'bevel'], counts: ['columns', 'rows'] },
  gradient: { amounts: [], counts: ['times'] },
  picture: {
    amounts: ['motif', 'shift', 'direction', 'spread'],
    counts: ['columns', 'rows', 'seed'],
    variations: ['tone', 'tilt', 'offset'],
  },
};

/** What a layer begins with when its kind is chosen, where that is not what all layers begin with. */
export const USUAL_OF_KIND: Partial<Record<FieldKind, Partial<FieldLayer>>> = {
  folds: { scale: 5, octaves: 3, spread: 0.1 },
  grunge: { scale: 4 },
  scratches: { count: 300, length: 0.25, width: 0.002, curl: 0.1, spread: 0.3 },
  fibres: { count: 2000, length: 0.3, width: 0.006, curl: 0.5, spread: 1 },
  bricks: { columns: 4, rows: 8, elements: { tone: 0.3, tilt: 0, offset: 0 } },
  planks: { columns: 2, rows: 8, line: 0.05, bevel: 0.05, elements: { tone: 0.4, tilt: 0, offset: 0.6 } },
  picture: { columns: 4, rows: 4, shift: 0, spread: 0 },
};

/** The numbers that a kind of layer has. */
export function fieldsOfLayer(kind: FieldKind) {
  const { amounts, counts, variations = [] } = FIELDS[kind];
  return {
    amounts: amounts.map((name) => AMOUNTS[name]),
    counts,
    variations: variations.map((name) => VARIATIONS[name]),
  };
}
