import type { Pattern } from '../batch.ts';
import type { Places } from '../domain.ts';
import { elementRandom, variedElement, type ElementVariation } from '../shapes/elements.ts';
import { measured } from './cellsAt.ts';
import { cellularNoise, type CellDistances, type Cells } from './cellularNoise.ts';

const AXIS = 8;

/**
 * Cells of a cellular noise as elements that differ in tone and tilt. An element slopes along a direction of the noise's
 * own space, so that it is as steep wherever the tile lies in it.
 */
export function cellElements(options: Cells, variation: ElementVariation, seed: number): Required<Pattern> {
  const { table, dimensions, jitter, cells } = options;
  const nearest = new Int32Array(4);
  let nearestHash = 0;
  const distances = cellularNoise(table, dimensions, jitter, (cell, hash) => {
    nearest.set(cell);
    nearestHash = hash;
  });
  const distancesAt = ([x, y, z, w]: Places, i: number): CellDistances =>
    distances(x[i]! * cells, y[i]! * cells, z[i]! * cells, w[i]! * cells);
  /** The number of the cell that was found last, a hash of 32 bits. */
  const nearestElement = (): number => {
    let element = 0;
    for (let k = 0; k < dimensions; k++) element = Math.imul(element ^ nearest[k]!, 0x01000193) ^ (element >>> 15);
    return element >>> 0;
  };
  /** How far a place lies from the point that was found last, along a direction that is the element's own, in cells. */
  const along = (element: number, places: Places, i: number): number => {
    let [sum, square] = [0, 0];
    for (let k = 0; k < dimensions; k++) {
      const point = nearest[k]! + 0.5 + (table[nearestHash + k]! / 256 + 1 / 512 - 0.5) * jitter;
      const share = elementRandom(element, AXIS + k, seed) - 0.5;
      sum += share * (places[k]![i]! * cells - point);
      square += share * share;
    }
    return sum / Math.sqrt(square);
  };
  return {
    value({ places }, out) {
      for (let i = 0; i < out.length; i++) {
        const cell = distancesAt(places, i);
        const element = nearestElement();
        // Points of neighbours lie about a cell apart.
        const slope = (): number => 2 * along(element, places, i);
        out[i] = measured(options, cell) * variedElement(element, seed, variation, slope);
      }
    },
    element({ places }, out) {
      for (let i = 0; i < out.length; i++) {
        distancesAt(places, i);
        out[i] = nearestElement();
      }
    },
  };
}
