import { fieldAt, type BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { Breakup } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';

/**
 * Breaks values up by a field: they are raised where it is above one half and lowered where it is below, most where they
 * are between 0 and 1, so that edges fray while what is whole stays whole.
 * @returns changes values in place; null where there is nothing to do
 */
export function breakUp(breakup: Breakup | null, tile: LayeredTile): BlockValues | null {
  if (!breakup || breakup.amount === 0) return null;
  const { amount } = breakup;
  const at = fieldAt(breakup.field, tile);
  const field = new Float32Array(TEXELS);
  return (block, values) => {
    at(block, field);
    for (let i = 0; i < block.count; i++) {
      const value = values[i]!;
      const between = 1 - Math.abs(2 * value - 1);
      values[i] = Math.max(0, Math.min(1, value + (field[i]! * 2 - 1) * amount * between));
    }
  };
}
