import { colorRamp } from '../../color/ramp.ts';
import { channelsOf, type FieldContent, type LayerBase, type Stack } from '../stack.ts';
import { fieldAt } from '../fieldAt.ts';
import type { LayeredTile } from '../layeredSurface.ts';
import { TEXELS } from '../texelBlock.ts';
import { asMixed, type BlockContent } from './blockContent.ts';

/** Steps of a ramp: as many as sixteen bits of grey can tell on screen are not needed. */
const STEPS = 1024;

/** A noise in space as colours and values. */
export function fieldContent(
  content: LayerBase & FieldContent,
  tile: LayeredTile,
  mixing: Stack['mixing'],
): BlockContent {
  const at = fieldAt(content.field, tile);
  const value = new Float32Array(TEXELS);
  const ramp = content.ramp ? rampTable(content.ramp) : null;
  return {
    channels: channelsOf(content),
    begin: (block) => at(block, value),
    read(channel, { count }, out) {
      if (channel === 'basecolor' && ramp) {
        for (let i = 0; i < count; i++) {
          const from = Math.round(value[i]! * STEPS) * 3;
          for (let k = 0; k < 3; k++) out[k * TEXELS + i] = ramp[from + k]!;
        }
        asMixed(mixing, out, count);
        return;
      }
      const [low, high] = content.values[channel as keyof FieldContent['values']]!;
      for (let i = 0; i < count; i++) out[i] = low + value[i]! * (high - low);
    },
  };
}

function rampTable(stops: NonNullable<FieldContent['ramp']>): Float32Array {
  const table = new Float32Array((STEPS + 1) * 3);
  const paint = colorRamp(stops);
  for (let i = 0; i <= STEPS; i++) paint(i / STEPS, table, i * 3);
  return table;
}
