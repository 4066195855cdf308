import { isColorChannel, widthOf, type LayerChannel } from '../channels.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { requireMap } from '../mask/maskStep.ts';
import type { MapsContent, Stack } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { asMixed, type BlockContent } from './blockContent.ts';

/** Maps of the image set as they are. @throws missing/not-found */
export function mapsContent({ channels }: MapsContent, inputs: LayerInputs, mixing: Stack['mixing']): BlockContent {
  const maps = new Map<LayerChannel, ReturnType<typeof requireMap>>();
  for (const channel of channels) maps.set(channel, requireMap(channel, inputs));
  return {
    channels,
    read(channel, { at, count }, out) {
      const { data, channels: width } = maps.get(channel)!;
      for (let k = 0; k < widthOf(channel); k++) {
        for (let i = 0; i < count; i++) out[k * TEXELS + i] = data[at[i]! * width + Math.min(k, width - 1)]!;
      }
      if (isColorChannel(channel)) asMixed(mixing, out, count);
    },
  };
}
