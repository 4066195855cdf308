import { smoothStep } from '../../image/planes.ts';
import { ofElements, type Pattern } from '../batch.ts';
import { elementRandom } from './elements.ts';

/** Specks of three sizes, each strewn over cells so much finer than the largest. */
const FINER = [1, 2.3, 5.1] as const;

/**
 * Round specks of all sizes: 1 in a speck. Each lies somewhere in a cell of its own.
 * @param step distance between samples, in tile widths @param aspect height over width of the tile
 * @param across cells of the largest over the tile @param cover how many cells have a speck, 0 to 1
 */
export function specks(
  step: number,
  aspect: number,
  { across, cover, seed }: { across: number; cover: number; seed: number },
): Required<Pattern> {
  const sizes = FINER.map((finer, k) => {
    const columns = Math.max(1, Math.round(across * finer));
    const rows = Math.max(1, Math.round(across * finer * aspect));
    return { columns, rows, own: seed + k * 31, soft: Math.max(0.03, step * columns), high: rows / columns / aspect };
  });
  return ofElements((u, v, place) => {
    place.value = 0;
    place.element = 0;
    for (const { columns, rows, own, soft, high } of sizes) {
      const [column, row] = [Math.min(columns - 1, Math.floor(u * columns)), Math.min(rows - 1, Math.floor(v * rows))];
      const element = row * columns + column;
      if (elementRandom(element, 0, own) >= cover) continue;
      // Small ones are frequent, large ones rare; none reaches beyond its cell.
      const radius = 0.06 + 0.38 * elementRandom(element, 1, own) ** 3;
      const room = 1 - 2 * radius - soft;
      const x = u * columns - column - 0.5 - (elementRandom(element, 2, own) - 0.5) * room;
      const y = (v * rows - row - 0.5 - (elementRandom(element, 3, own) - 0.5) * room) / high;
      const value = 1 - smoothStep(radius - soft / 2, radius + soft / 2, Math.hypot(x, y));
      if (value > place.value) [place.value, place.element] = [value, element + 1];
    }
  });
}
