import type { Layer } from '@zographos/core/layers';
import { layer } from './layerSettings.ts';

/**
 * A group of layers that is kept to be laid on other receivers: its masks go by curvature, occlusion, sky and direction,
 * and so find those of whatever they lie on.
 */
export interface Coating {
  name: string;
  /** One line that says what it is. */
  hint: string;
  layers: Layer[];
}

const noise = (size: number, seed: number, more: object = {}): object => ({ size, seed, octaves: 6, ...more });
const ramp = (dark: string, light: string): object[] => [
  { at: 0.15, color: dark },
  { at: 0.85, color: light },
];
const worn = (radius: number, seed: number, more: object = {}): object => ({
  ...{ measure: 'wear', radius, hardness: 0.35, sheltered: 0.5 },
  breakup: { amount: 0.8, field: noise(radius * 4, seed) },
  ...more,
});
const hollows = { measure: 'map', map: 'ao', from: 0.95, to: 0.5 };

const coating = (name: string, hint: string, layers: object[]): Coating => ({
  ...{ name, hint },
  layers: layers.map((each, i) => layer.parse({ id: `${name} ${i}`, ...each })),
});

/** Coatings that come with Zographos: materials of a small tidal harbour, made of fields alone, at their size in mm. */
export const COATINGS: readonly Coating[] = [
  coating('Red lead paint worn to steel', 'brushed primer, rubbed through at edges, rust in hollows', [
    {
      ...{ name: 'Steel', content: 'field', field: noise(40, 1) },
      ramp: ramp('#6a6d70', '#85888a'),
      values: { roughness: [0.3, 0.45], metallic: [1, 1] },
    },
    {
      ...{ name: 'Red lead', content: 'field', field: noise(120, 2) },
      ramp: ramp('#8d3323', '#b04a30'),
      values: { roughness: [0.45, 0.62], metallic: [0, 0], height: [0.12, 0.22] },
      mask: { steps: [worn(4, 3, { invert: true })] },
    },
    {
      ...{ name: 'Rust', content: 'field', field: noise(8, 4), opacity: 0.9 },
      ramp: ramp('#3b2017', '#94552a'),
      values: { roughness: [0.8, 0.96], metallic: [0, 0], height: [0, 0.15] },
      mask: { steps: [hollows, { measure: 'field', field: noise(45, 5, { levels: [0.4, 0.6] }) }] },
    },
  ]),
  coating('Galvanised', 'zinc in crystals, dulled where it is sheltered', [
    {
      ...{ name: 'Zinc crystals', content: 'field', field: { noise: 'cells', size: 14, octaves: 1, seed: 6 } },
      ramp: ramp('#8f979b', '#b7bdbf'),
      values: { roughness: [0.34, 0.5], metallic: [1, 1] },
    },
    {
      ...{ name: 'Dulled zinc', content: 'field', field: noise(60, 7), opacity: 0.55 },
      ramp: ramp('#7d8385', '#a7abab'),
      values: { roughness: [0.6, 0.75], metallic: [0.6, 0.6] },
      mask: { steps: [hollows, { measure: 'field', field: noise(80, 8), combine: 'screen', strength: 0.4 }] },
    },
  ]),
  coating('Tarred rope', 'fibres soaked in tar, dry and grey where it is rubbed', [
    {
      ...{ name: 'Tar', content: 'field', field: noise(3, 9) },
      ramp: ramp('#17130f', '#2d251c'),
      values: { roughness: [0.38, 0.6], metallic: [0, 0], height: [-0.15, 0.15] },
    },
    {
      ...{ name: 'Dry fibres', content: 'field', field: noise(1.5, 10, { style: 'ridged' }) },
      ramp: ramp('#4f4433', '#8a7a5e'),
      values: { roughness: [0.85, 0.95], metallic: [0, 0] },
      mask: { steps: [worn(6, 11)] },
    },
  ]),
  coating('Weathered oak', 'silvered wood, brown where the weather does not reach', [
    {
      ...{ name: 'Oak', content: 'field', field: noise(9, 12, { style: 'billowed' }) },
      ramp: ramp('#4a3524', '#7d6040'),
      values: { roughness: [0.6, 0.75], metallic: [0, 0], height: [-0.2, 0.2] },
    },
    {
      ...{ name: 'Silvered', content: 'field', field: noise(6, 13, { style: 'billowed' }), opacity: 0.85 },
      ramp: ramp('#77746c', '#a8a59b'),
      values: { roughness: [0.8, 0.92], metallic: [0, 0] },
      mask: {
        steps: [
          { measure: 'map', map: 'sky', from: 0.15, to: 0.7 },
          { measure: 'field', field: noise(70, 14, { levels: [0.1, 0.6] }) },
        ],
      },
    },
  ]),
  coating('Limewashed stone', 'lime brushed over stone, washed off edges', [
    {
      ...{ name: 'Stone', content: 'field', field: noise(25, 15) },
      ramp: ramp('#6d675c', '#97907f'),
      values: { roughness: [0.82, 0.95], metallic: [0, 0], height: [-0.4, 0.4] },
    },
    {
      ...{ name: 'Limewash', content: 'field', field: noise(180, 16) },
      ramp: ramp('#cfcabd', '#e9e5da'),
      values: { roughness: [0.9, 0.97], metallic: [0, 0], height: [0.1, 0.3] },
      mask: {
        steps: [worn(10, 17, { invert: true }), { measure: 'field', field: noise(60, 18, { levels: [0.3, 0.42] }) }],
      },
    },
  ]),
  coating('Harbour brass', 'brass, bright where hands rub it, green in hollows', [
    {
      ...{ name: 'Brass', content: 'field', field: noise(50, 19) },
      ramp: ramp('#7a6431', '#97803f'),
      values: { roughness: [0.4, 0.55], metallic: [1, 1] },
    },
    {
      ...{ name: 'Verdigris', content: 'field', field: noise(7, 20) },
      ramp: ramp('#3f6b5c', '#79a58f'),
      values: { roughness: [0.85, 0.95], metallic: [0, 0], height: [0, 0.08] },
      mask: { steps: [hollows, { measure: 'field', field: noise(30, 21, { levels: [0.35, 0.6] }) }] },
    },
    {
      ...{ name: 'Rubbed bright', content: 'plain', values: { basecolor: '#c9a95a', roughness: 0.22, metallic: 1 } },
      mask: { steps: [worn(5, 22)] },
    },
  ]),
];
