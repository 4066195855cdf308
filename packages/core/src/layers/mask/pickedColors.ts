import { linearToSrgb } from '../../color/srgb.ts';
import type { Image } from '../../image/image.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';

/**
 * 1 where an ID map has one of some colours.
 * @param colors as `#rrggbb`
 * @param tolerance by which each channel may differ, 0 to 1
 */
export function pickedColors(colors: readonly string[], tolerance: number, ids: Image): BlockValues {
  const wanted = colors.map((color) => [1, 3, 5].map((at) => parseInt(color.slice(at, at + 2), 16) / 255));
  // Half a step of eight bits, which is what colours are written with.
  const near = tolerance + 0.5 / 255;
  const { data, channels } = ids;
  const shown = ids.colorSpace === 'srgb' ? linearToSrgb : (value: number): number => value;
  return (block, out) => {
    for (let i = 0; i < block.count; i++) {
      const at = block.at[i]! * channels;
      out[i] = 0;
      for (const color of wanted) {
        if (
          Math.abs(shown(data[at]!) - color[0]!) <= near &&
          Math.abs(shown(data[at + 1]!) - color[1]!) <= near &&
          Math.abs(shown(data[at + 2]!) - color[2]!) <= near
        ) {
          out[i] = 1;
          break;
        }
      }
    }
  };
}
