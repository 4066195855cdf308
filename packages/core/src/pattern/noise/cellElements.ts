import type { Pattern } from '../batch.ts';
import type { Places } from '../domain.ts';
import { elementRandom, variedElement, type ElementVariation } from '../shapes/elements.ts';
import { measured } from './cellsAt.ts';
import { cellularNoise, type Cells } from './cellularNoise.ts';

const AXIS = 8;

/**
 * Cells of a cellular noise as elements that differ in tone and tilt. An element slopes along a direction of the noise's
 * own space, so that it is as steep wherever the tile lies in it.
 */
export function cellElements(options: Cells, variation: ElementVariation, seed: number): Required<Pattern> {
  const { table, dimensions, jitter, cells } = options;
  const at = cellularNoise(table, dimensions, jitter);
  const found = ([x, y, z, w]: Places, i: number): ReturnType<typeof at> =>
    at(x[i]! * cells, y[i]! * cells, z[i]! * cells, w[i]! * cells);
  /** How far a place lies from its point along a direction that is the element's own, in cells. */
  const along = (element: number, from: Float64Array): number => {
    let [sum, square] = [0, 0];
    for (let k = 0; k < dimensions; k++) {
      const share = elementRandom(element, AXIS + k, seed) - 0.5;
      sum += share * from[k]!;
      square += share * share;
    }
    return sum / Math.sqrt(square);
  };
  return {
    value({ places }, out) {
      for (let i = 0; i < out.length; i++) {
        const cell = found(places, i);
        // Points of neighbours lie about a cell apart.
        const slope = (): number => 2 * along(cell.element, cell.from);
        out[i] = measured(options, cell) * variedElement(cell.element, seed, variation, slope);
      }
    },
    element({ places }, out) {
      for (let i = 0; i < out.length; i++) out[i] = found(places, i).element;
    },
  };
}
