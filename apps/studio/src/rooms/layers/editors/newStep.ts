import type { Breakup, MaskMeasure, MaskStep } from '@zographos/core/layers';
import { FIRST_TILE } from '@zographos/core/uv';
import { madeStep } from '../adding/newLayers.ts';

/** What is known of the receiver where its masks are made. */
export interface StepSurface {
  /** Its size in millimetres. */
  extent: number;
  /** How many triangles it has. */
  triangles: number;
  slots: readonly string[];
  objects: readonly string[];
}

/** A noise that breaks up what is too even. @param extent size of the receiver in millimetres */
export const brokenUp = (extent: number): Breakup => ({
  amount: 0.5,
  field: {
    ...{ noise: 'gradient-noise', size: Number((extent / 50).toPrecision(2)), octaves: 5 },
    ...{ style: 'smooth', levels: [0, 1], seed: 1 },
  },
});

/** Whether a step goes by what is clicked on the model. */
export const isPicked = ({ measure }: Pick<MaskStep, 'measure'>): boolean =>
  (['part', 'near', 'island', 'faces', 'slot', 'object', 'tile', 'id'] as MaskMeasure['measure'][]).includes(measure);

/** A step with numbers that suit the receiver. */
export function newStep(measure: MaskMeasure['measure'], { extent, triangles, slots, objects }: StepSurface): MaskStep {
  switch (measure) {
    case 'slot':
      return madeStep({ measure, slots: slots.slice(0, 1) });
    case 'object':
      return madeStep({ measure, objects: objects.slice(0, 1) });
    case 'part':
    case 'island':
      return madeStep({ measure, triangles: [0] });
    case 'near':
      return madeStep({ measure, triangles: [0], reach: extent / 20 });
    case 'faces':
      return madeStep({ measure, ranges: [[0, 1]], of: Math.max(1, triangles) });
    case 'id':
      return madeStep({ measure, colors: ['#ff0000'] });
    case 'tile':
      return madeStep({ measure, tiles: [FIRST_TILE] });
    case 'map':
      return madeStep({ measure, map: 'ao', from: 1, to: 0.5 });
    case 'axis':
      return madeStep({ measure, axis: [0, 1, 0], from: -extent / 2, to: extent / 2 });
    case 'facing':
      return madeStep({ measure, direction: [0, 1, 0] });
    case 'field':
      return madeStep({ measure, field: { size: extent / 10 } });
    case 'waterline':
      return madeStep({ measure, level: 0, band: extent / 12, ragged: extent / 40, raggedSize: extent / 8 });
    case 'wear':
      return madeStep({ measure, radius: extent / 80 });
    case 'picture':
      return madeStep({
        ...{ measure, picture: 0, width: extent / 3 },
        place: {
          ...{ on: 'surface', center: [0, 0, 0], normal: [0, 0, 1], width: extent / 3, height: extent / 3 },
          depth: extent,
        },
      });
    case 'runs':
      return madeStep({
        ...{ measure, length: extent / 6, width: extent / 200, wanderSize: extent / 50, drops: 600 },
        from: [{ measure: 'facing', direction: [0, 1, 0] }],
      });
    case 'spreading':
      return madeStep({ measure, reach: extent / 20, roughSize: extent / 40 });
    default:
      return madeStep({ measure });
  }
}
