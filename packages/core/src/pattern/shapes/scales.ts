import { smoothStep } from '../../image/planes.ts';
import { ofElements, type Pattern } from '../batch.ts';
import { elementRandom, slopeOf, variedElement, type ElementVariation } from './elements.ts';
import { fraction } from './fraction.ts';

const OFFSET = 2;

/**
 * Scales in rows, each lying on the one below it, rounded at its lower end and highest there.
 * @param step distance between samples, in tile widths @param rows an even number
 */
export function scales(
  step: number,
  columns: number,
  rows: number,
  variation: ElementVariation,
  seed: number,
): Required<Pattern> {
  const soft = step * rows;
  const numberOf = (u: number, row: number): number => {
    const pushed = (row & 1) !== 0 ? 0.5 : 0;
    return ((row + rows) % rows) * columns + (Math.floor(u * columns + pushed) % columns);
  };
  /** How far down the row below a scale reaches in its middle, in rows. */
  const lengthOf = (element: number): number =>
    0.9 * (1 - variation.offset * 0.5 * elementRandom(element, OFFSET, seed));
  return ofElements((u, v, place) => {
    const row = Math.min(rows - 1, Math.floor(v * rows));
    const down = v * rows - row;
    const isPushed = (row & 1) !== 0;
    const own = fraction(u * columns + (isPushed ? 0.5 : 0)) - 0.5;
    // The row above reaches into this one with its rounded ends.
    const above = fraction(u * columns + (isPushed ? 0 : 0.5)) - 0.5;
    const [below, over] = [numberOf(u, row), numberOf(u, row - 1)];
    const reach = 2 * lengthOf(over) * Math.sqrt(0.25 - above * above);
    const covered = 1 - smoothStep(reach - soft / 2, reach + soft / 2, down);
    place.element = covered >= 0.5 ? over : below;
    place.value =
      covered *
        scaleHeight(above, 1 + down) *
        variedElement(over, seed, variation, () => slopeOf(over, seed, 2 * above, down)) +
      (1 - covered) *
        scaleHeight(own, down) *
        variedElement(below, seed, variation, () => slopeOf(below, seed, 2 * own, down - 1));
  });
}

/** @param x from its middle, in its widths @param y from its upper end, in rows, of which it covers two */
const scaleHeight = (x: number, y: number): number => 0.15 + 0.85 * (y / 2) * (1 - 1.2 * x * x);
