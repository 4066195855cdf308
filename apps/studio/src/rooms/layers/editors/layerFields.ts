import { describeKind } from '@zographos/core/image';
import type { LayerChannel, MaskMeasure } from '@zographos/core/layers';
import type { SolidField } from '@zographos/core/pattern';
import type { AmountField } from '../../../controls/amountField.ts';

/** A number of a layer, with where it may go and where its slider goes. */
type NumberOptions = Partial<Pick<AmountField, 'slider' | 'factor' | 'suffix' | 'digits'>>;

const field = <Name extends string>(
  name: Name,
  label: string,
  [min, max]: readonly [number, number],
  usual: number,
  { slider = [min, max], factor = 1, suffix = '', digits = 2 }: NumberOptions = {},
): AmountField<Name> => ({ name, label, min, max, usual, slider, factor, suffix, digits });

const MM = { suffix: ' mm', digits: 3 } as const;
const PERCENT = { factor: 100, suffix: ' %', digits: 0 } as const;
const DEGREES = { suffix: '°', digits: 0 } as const;

export const SHARE = <Name extends string>(name: Name, label: string, usual = 1): AmountField<Name> =>
  field(name, label, [0, 1], usual, PERCENT);

/** A length on the screen. */
export const PIXELS = <Name extends string>(
  name: Name,
  label: string,
  most: number,
  usual: number,
): AmountField<Name> => field(name, label, [0.5, 10_000], usual, { suffix: ' px', digits: 1, slider: [1, most] });

export const ANGLE = (name: string, label: string, min = -180, max = 180, usual = 0): AmountField =>
  field(name, label, [min, max], usual, DEGREES);

export const COUNT = (name: string, label: string, min: number, max: number, usual: number): AmountField =>
  field(name, label, [min, max], usual, { digits: 0 });

/** A place along an axis. */
export const POSITION = (name: string, label: string, extent: number): AmountField =>
  field(name, label, [-1e6, 1e6], 0, { ...MM, slider: [-extent, extent] });

/** Lengths go over several orders of magnitude: sliders go as far as the thing they are on is large. */
export const LENGTH = <Name extends string>(
  name: Name,
  label: string,
  extent: number,
  usual: number,
  least = 0,
): AmountField<Name> => field(name, label, [least, 1e6], usual, { ...MM, slider: [least, extent] });

/** The numbers of what a step of a mask measures. @param extent size of the receiver in millimetres */
export function measureFields(measure: MaskMeasure['measure'], extent: number): AmountField[] {
  switch (measure) {
    case 'wear':
      return [
        LENGTH('radius', 'Radius', extent / 20, extent / 80, 0.01),
        SHARE('hardness', 'Hardness', 0.5),
        SHARE('sheltered', 'Sheltered by occlusion', 0.6),
      ];
    case 'dust':
      return [
        SHARE('amount', 'Amount', 0.5),
        field('angle', 'Steepest slope', [0, 180], 55, DEGREES),
        field('softness', 'Softness', [0, 180], 30, DEGREES),
        LENGTH('blownOff', 'Clean edges up to', extent / 20, 0),
      ];
    case 'waterline':
      return [
        field('level', 'Level', [-1e6, 1e6], 0, { ...MM, slider: [-extent, extent] }),
        LENGTH('ragged', 'Ragged by', extent / 8, extent / 40),
        LENGTH('raggedSize', 'Width of waves', extent / 2, extent / 8, 0.1),
        LENGTH('band', 'Fading band', extent / 2, extent / 12),
        field('seed', 'Random seed', [0, 1e6], 1, { digits: 0, slider: [0, 100] }),
      ];
    case 'runs':
      return [
        field('drops', 'Drops', [1, 2e6], 2000, { digits: 0, slider: [10, 20_000] }),
        LENGTH('length', 'Length', extent, extent / 6, 0.1),
        LENGTH('width', 'Width', extent / 40, extent / 200, 0.01),
        SHARE('amount', 'Amount', 0.5),
        field('wander', 'Led aside by', [0, 4], 0.4, { ...PERCENT, slider: [0, 1.5] }),
        LENGTH('wanderSize', 'Width of meanders', extent / 5, extent / 50, 0.1),
        field('clings', 'Drips off beyond', [0, 90], 50, DEGREES),
        field('seed', 'Random seed', [0, 1e6], 1, { digits: 0, slider: [0, 100] }),
      ];
    case 'spreading':
      return [
        field('seeds', 'Seeds', [1, 20_000], 40, { digits: 0, slider: [1, 400] }),
        LENGTH('reach', 'Grown by', extent / 4, extent / 20, 0.1),
        SHARE('vary', 'Less by chance', 0.6),
        SHARE('softness', 'Softness', 0.3),
        SHARE('roughness', 'Ragged', 0.3),
        LENGTH('roughSize', 'Width of waves', extent / 5, extent / 40, 0.01),
        field('seed', 'Random seed', [0, 1e6], 1, { digits: 0, slider: [0, 100] }),
      ];
    case 'sunFade':
      return [SHARE('amount', 'Amount', 0.6), SHARE('threshold', 'Begins at', 0.1)];
    case 'facing':
      return [field('angle', 'Within', [0, 180], 60, DEGREES), field('softness', 'Softness', [0, 180], 20, DEGREES)];
    case 'axis':
      return [
        field('from', '0 % at', [-1e6, 1e6], 0, { ...MM, slider: [-extent, extent] }),
        field('to', '100 % at', [-1e6, 1e6], 100, { ...MM, slider: [-extent, extent] }),
      ];
    case 'map':
      return [
        field('from', '0 % at', [-1e6, 1e6], 0, { digits: 4, slider: [-1, 1] }),
        field('to', '100 % at', [-1e6, 1e6], 1, { digits: 4, slider: [-1, 1] }),
      ];
    case 'near':
      return [LENGTH('reach', 'Reach', extent / 2, extent / 20, 0.001)];
    case 'id':
      return [SHARE('tolerance', 'Tolerance', 0.02)];
    default:
      return [];
  }
}

/** The numbers of a field in space. */
export const noiseFields = (extent: number): AmountField<Extract<keyof SolidField, string>>[] =>
  [
    LENGTH('size', 'Size', extent / 2, 20, 0.01),
    field('octaves', 'Octaves', [1, 12], 5, { digits: 0 }),
    field('seed', 'Random seed', [0, 1e6], 1, { digits: 0, slider: [0, 100] }),
  ] as AmountField<Extract<keyof SolidField, string>>[];

/** The numbers that a plain layer lays down. */
export const valueField = (channel: LayerChannel): AmountField | null => {
  switch (channel) {
    case 'roughness':
      return SHARE('roughness', 'Roughness', 0.5);
    case 'metallic':
      return SHARE('metallic', 'Metallic', 0);
    case 'opacity':
      return SHARE('opacity', 'Opacity', 1);
    case 'height':
      return field('height', 'Height', [-1000, 1000], 0, { ...MM, slider: [-2, 2] });
    case 'maskred':
    case 'maskgreen':
    case 'maskblue':
    case 'maskalpha':
      return SHARE(channel, describeKind(channel).label);
    default:
      return null;
  }
};

/** The numbers of the shaping of a mask. */
export const shapingFields = (extent: number): AmountField[] => [
  field('contrast', 'Contrast', [0, 16], 1, { slider: [0, 8] }),
  field('grow', 'Grow', [-1000, 1000], 0, { ...MM, slider: [-extent / 40, extent / 40] }),
  field('blur', 'Blur', [0, 1000], 0, { ...MM, slider: [0, extent / 40] }),
];

export const tilingFields = (): AmountField[] => [
  field('scale', 'Scale', [0.001, 1000], 1, { ...PERCENT, slider: [0.1, 4] }),
  field('turn', 'Rotation', [-360, 360], 0, { ...DEGREES, slider: [-180, 180] }),
  field('relief', 'Relief', [0, 10], 1, { ...PERCENT, slider: [0, 3] }),
];
