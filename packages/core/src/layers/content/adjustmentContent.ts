import { adjust, type Adjustment } from '../../adjust/adjust.ts';
import type { Border } from '../../image/filter/resample.ts';
import type { Image } from '../../image/image.ts';
import { linearToSrgb, srgbToLinear } from '../../color/srgb.ts';
import { isColorChannel, widthOf, type LayerChannel } from '../channels.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import type { AdjustmentContent, Stack } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import type { BlockContent } from './blockContent.ts';

const NEIGHBOURS: ReadonlySet<Adjustment['do']> = new Set(['blur', 'sharpen', 'denoise', 'high-pass', 'equalise']);

/** Whether an adjustment looks at more than one texel at a time. */
export const adjustsNeighbours = ({ steps }: AdjustmentContent): boolean =>
  steps.some((step) => NEIGHBOURS.has(step.do));

export const planeOfAdjustment = (layerId: string, channel: LayerChannel): string => `adjusted ${layerId} ${channel}`;

/** What lies beneath, changed texel by texel, or taken from the planes of what was changed as a whole. */
export function adjustmentContent(
  { id, channels, steps, ...rest }: { id: string } & AdjustmentContent,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): BlockContent {
  if (adjustsNeighbours({ channels, steps, ...rest })) {
    return {
      channels,
      read(channel, { at, count }, out) {
        const plane = inputs.planes.get(planeOfAdjustment(id, channel))!;
        const width = widthOf(channel);
        for (let k = 0; k < width; k++) {
          for (let i = 0; i < count; i++) out[k * TEXELS + i] = plane[at[i]! * width + k]!;
        }
      },
    };
  }
  return {
    channels,
    read(channel, { count }, out, below) {
      const width = widthOf(channel);
      const data = new Float32Array(count * width);
      const from = below[channel]!;
      for (let k = 0; k < width; k++) for (let i = 0; i < count; i++) data[i * width + k] = from[k * TEXELS + i]!;
      const done = adjustedPlane({ width: count, height: 1, channels: width, data }, channel, steps, mixing).data;
      for (let k = 0; k < width; k++) for (let i = 0; i < count; i++) out[k * TEXELS + i] = done[i * width + k]!;
    },
  };
}

/** Values of a channel as they are mixed, adjusted as they are seen. */
export function adjustedPlane(
  image: Image,
  channel: LayerChannel,
  steps: readonly Adjustment[],
  mixing: Stack['mixing'],
  border: Border = 'clamp',
): Image {
  const isLight = isColorChannel(channel) && mixing === 'light';
  if (!isLight) return adjust(image, steps, border);
  const seen = { ...image, data: image.data.map((value) => linearToSrgb(Math.max(0, value))) };
  const done = adjust(seen, steps, border);
  return { ...done, data: done.data.map((value) => srgbToLinear(Math.max(0, value))) };
}
