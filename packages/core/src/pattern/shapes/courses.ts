import { wrapped } from '../../image/sample.ts';
import { smoothStep } from '../../image/planes.ts';
import { ofElements, type Pattern } from '../batch.ts';
import { elementRandom, slopeOf, variedElement, type ElementVariation } from './elements.ts';

export interface CourseOptions {
  /** Elements of each course, and courses. */
  columns: number;
  rows: number;
  /** How far a course is pushed along itself, in elements. */
  shift: (row: number) => number;
  /** Of the joint, as a share of a course's height. */
  gap: number;
  /** How far an element's edge slopes, as a share of its height. */
  bevel: number;
  variation: ElementVariation;
  seed: number;
}

const JOINT = 2;
const SHIFT = 3;

/** Every other course pushed by the same length, as bricks are laid. */
export const inBond =
  (shift: number) =>
  (row: number): number =>
    row % 2 === 0 ? 0 : shift;

/** Each course pushed by a length of its own, as planks are laid. */
export const atRandom =
  (seed: number) =>
  (row: number): number =>
    elementRandom(row, SHIFT, seed);

/**
 * Bricks, slabs or planks in courses, with joints: 0 in the joint.
 * @param step distance between samples, in tile widths @param aspect height over width of the tile
 */
export function courses(step: number, aspect: number, options: CourseOptions): Required<Pattern> {
  const { columns, rows, shift, gap, bevel, variation, seed } = options;
  // Lengths are in heights of an element.
  const long = rows / columns / aspect;
  const soft = Math.max(bevel, (step * rows) / aspect);
  /** Where an element begins. Two joints are never nearer than a tenth of an element. */
  const joint = (column: number, row: number): number =>
    variation.offset === 0
      ? column
      : column +
        (elementRandom(row * columns + wrapped(column, columns, 'repeat'), JOINT, seed) - 0.5) * variation.offset * 0.9;
  return ofElements((u, v, place) => {
    const row = Math.min(rows - 1, Math.floor(v * rows));
    const x = u * columns + shift(row);
    let column = Math.floor(x);
    if (x < joint(column, row)) column--;
    else if (x >= joint(column + 1, row)) column++;
    const [left, right] = [joint(column, row), joint(column + 1, row)];
    const down = v * rows - row;
    const fromEdge = Math.min((x - left) * long, (right - x) * long, 0.5 - Math.abs(down - 0.5));
    place.element = row * columns + wrapped(column, columns, 'repeat');
    place.value =
      smoothStep(gap / 2 - soft / 2, gap / 2 + soft / 2, fromEdge) *
      variedElement(place.element, seed, variation, () =>
        slopeOf(place.element, seed, (2 * (x - left)) / (right - left) - 1, 2 * down - 1),
      );
  });
}
