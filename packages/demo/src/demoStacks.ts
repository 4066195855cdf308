import { parseSettings, type OperationSettings } from '@zographos/operations';

/** Layers of the demo, on the image set of a receiver, which is named by its object. */
export interface DemoStack {
  name: string;
  receiver: string;
  settings: OperationSettings['layers'];
}

const UP = [0, 1, 0];
const noise = (size: number, seed: number, more: object = {}): object => ({ size, seed, octaves: 6, ...more });
const between = (from: number, to: number): object => ({ measure: 'axis', axis: UP, from, to });

/** A bell buoy that has been out for a season: primed steel, red lead below, a white band, rust that runs from rivets, weed, salt and dust. */
const BELL_LAYERS = [
  { id: 'baked', name: 'Baked maps', content: 'maps', channels: ['height', 'normal'] },
  {
    ...{ id: 'steel', name: 'Primed steel', content: 'field', field: noise(90, 3) },
    ramp: [
      { at: 0.2, color: '#565d5f' },
      { at: 0.8, color: '#788184' },
    ],
    values: { roughness: [0.5, 0.68], metallic: [0, 0] },
  },
  {
    ...{ id: 'red', name: 'Red lead paint', content: 'field', field: noise(140, 11) },
    ramp: [
      { at: 0.1, color: '#8d3323' },
      { at: 0.9, color: '#b04a30' },
    ],
    values: { roughness: [0.42, 0.6], metallic: [0, 0], height: [0.1, 0.2] },
    mask: { steps: [between(268, 262)] },
  },
  {
    ...{ id: 'band', name: 'White band', content: 'plain' },
    values: { basecolor: '#dcd6c6', roughness: 0.5, metallic: 0, height: 0.12 },
    mask: {
      steps: [between(118, 121), { ...between(206, 203), combine: 'multiply' }],
      shaping: { breakup: { amount: 0.5, field: noise(14, 5) } },
    },
  },
  {
    ...{ id: 'worn', name: 'Worn edges', content: 'plain' },
    values: { basecolor: '#8b8d8c', roughness: 0.38, metallic: 1, height: -0.08 },
    mask: {
      steps: [
        {
          ...{ measure: 'wear', radius: 9, hardness: 0.3, sheltered: 0.5 },
          breakup: { amount: 0.8, field: noise(16, 7) },
        },
      ],
    },
  },
  {
    ...{ id: 'rust', name: 'Rust in hollows', content: 'field', field: noise(10, 17), opacity: 0.9 },
    ramp: [
      { at: 0.15, color: '#3b2017' },
      { at: 0.85, color: '#94552a' },
    ],
    values: { roughness: [0.8, 0.96], metallic: [0, 0], height: [0, 0.25] },
    mask: {
      steps: [
        { measure: 'map', map: 'ao', from: 0.95, to: 0.55 },
        { measure: 'field', field: noise(60, 23, { levels: [0.38, 0.62] }) },
      ],
      shaping: { contrast: 1.6 },
    },
  },
  {
    ...{ id: 'runs', name: 'Rust runs from rivets', content: 'field', field: noise(12, 41), opacity: 0.75 },
    ramp: [
      { at: 0.2, color: '#4a2415' },
      { at: 0.8, color: '#8a4a22' },
    ],
    values: { roughness: [0.75, 0.92], metallic: [0, 0] },
    mask: {
      steps: [
        {
          ...{ measure: 'runs', drops: 420, length: 70, width: 6, amount: 0.55, wander: 0.25, wanderSize: 30, seed: 8 },
          from: [{ measure: 'map', map: 'height', from: 5.5, to: 7 }],
        },
      ],
    },
  },
  {
    ...{ id: 'weed', name: 'Weed below the waterline', content: 'field', field: noise(24, 29) },
    ramp: [
      { at: 0.2, color: '#26301c' },
      { at: 0.8, color: '#56603a' },
    ],
    values: { roughness: [0.55, 0.85], metallic: [0, 0], height: [0, 0.6] },
    mask: {
      steps: [{ measure: 'waterline', axis: UP, level: -40, ragged: 24, raggedSize: 140, band: 70, seed: 3 }],
      shaping: { breakup: { amount: 0.9, field: noise(18, 31) } },
    },
  },
  {
    ...{ id: 'dust', name: 'Settled dust and salt', content: 'plain', opacity: 0.42 },
    values: { basecolor: '#b9ae96', roughness: 0.95, metallic: 0 },
    mask: {
      steps: [
        {
          ...{ measure: 'dust', amount: 0.5, angle: 50, softness: 40, blownOff: 4 },
          breakup: { amount: 0.6, field: noise(40, 37) },
        },
      ],
    },
  },
];

/** A bollard over two UDIM tiles: tarred cast iron, rubbed bright by ropes. */
const BOLLARD_LAYERS = [
  { id: 'baked', name: 'Baked maps', content: 'maps', channels: ['height', 'normal'] },
  {
    ...{ id: 'iron', name: 'Cast iron', content: 'field', field: noise(30, 2) },
    ramp: [
      { at: 0.2, color: '#2a2b2c' },
      { at: 0.8, color: '#4a4946' },
    ],
    values: { roughness: [0.5, 0.75], metallic: [0.8, 1], height: [-0.1, 0.1] },
  },
  {
    ...{ id: 'tar', name: 'Tar', content: 'plain' },
    values: { basecolor: '#141312', roughness: 0.32, metallic: 0, height: 0.2 },
    mask: {
      steps: [
        between(300, 340),
        { measure: 'field', field: noise(70, 9, { levels: [0.35, 0.45] }), combine: 'multiply' },
      ],
    },
  },
  {
    ...{ id: 'rubbed', name: 'Rubbed by ropes', content: 'plain' },
    values: { basecolor: '#8a8782', roughness: 0.28, metallic: 1, height: -0.1 },
    mask: {
      steps: [
        {
          ...{ measure: 'wear', radius: 14, hardness: 0.2, sheltered: 0.3 },
          breakup: { amount: 0.7, field: noise(20, 13) },
        },
      ],
    },
  },
  {
    ...{ id: 'rust', name: 'Rust', content: 'field', field: noise(12, 19), opacity: 0.85 },
    ramp: [
      { at: 0.2, color: '#41241a' },
      { at: 0.8, color: '#8c4c26' },
    ],
    values: { roughness: [0.8, 0.95], metallic: [0, 0] },
    mask: { steps: [between(160, 10), { measure: 'field', field: noise(50, 21, { levels: [0.4, 0.6] }) }] },
  },
  {
    ...{ id: 'salt', name: 'Salt and dust', content: 'plain', opacity: 0.5 },
    values: { basecolor: '#bdb6a6', roughness: 0.95, metallic: 0 },
    mask: {
      steps: [
        { measure: 'dust', amount: 0.5, angle: 50, softness: 40, breakup: { amount: 0.5, field: noise(30, 27) } },
      ],
    },
  },
];

export const DEMO_STACKS: DemoStack[] = [
  {
    name: 'Bell buoy, a season out',
    receiver: 'Bell light',
    settings: parseSettings('layers', { size: { width: 2048, height: 2048 }, layers: BELL_LAYERS }),
  },
  {
    name: 'Bollard, tarred and rubbed',
    receiver: 'Bollard light',
    settings: parseSettings('layers', { size: { width: 1024, height: 1024 }, tiles: 'all', layers: BOLLARD_LAYERS }),
  },
];
