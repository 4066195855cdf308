import { colorRamp } from '../../color/ramp.ts';
import { quickLinearToSrgb } from '../../color/srgb.ts';
import { channelsOf, type FieldContent, type LayerBase, type Stack } from '../stack.ts';
import { fieldAt } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import type { BlockContent } from './blockContent.ts';

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
  const ramp = content.ramp ? rampTable(content.ramp, mixing) : null;
  return {
    channels: channelsOf(content),
    begin(block) {
      at(block, value);
      return true;
    },
    read(channel, { count }, out) {
      if (channel === 'basecolor' && ramp) {
        for (let i = 0; i < count; i++) {
          const from = Math.round(value[i]! * STEPS) * 3;
          out[i] = ramp[from]!;
          out[TEXELS + i] = ramp[from + 1]!;
          out[TEXELS * 2 + i] = ramp[from + 2]!;
        }
        return;
      }
      const [low, high] = content.values[channel as keyof FieldContent['values']]!;
      for (let i = 0; i < count; i++) out[i] = low + value[i]! * (high - low);
    },
  };
}

/** Colours of a ramp as they are mixed. */
function rampTable(stops: NonNullable<FieldContent['ramp']>, mixing: Stack['mixing']): Float32Array {
  const table = new Float32Array((STEPS + 1) * 3);
  const paint = colorRamp(stops);
  for (let i = 0; i <= STEPS; i++) paint(i / STEPS, table, i * 3);
  return mixing === 'light' ? table : table.map((light) => quickLinearToSrgb(Math.max(0, light)));
}
