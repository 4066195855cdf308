import { parseColor } from '../../color/ramp.ts';
import type { LayerChannel } from '../channels.ts';
import type { PlainContent, Stack } from '../stack.ts';
import { quickLinearToSrgb } from '../../color/srgb.ts';
import { fillPlanes, type BlockContent } from './blockContent.ts';

/** One value for each channel. @throws input/bad-settings for what is no colour */
export function plainContent({ values }: PlainContent, mixing: Stack['mixing']): BlockContent {
  const known = new Map<LayerChannel, readonly number[]>();
  for (const [channel, value] of Object.entries(values)) {
    const mixed =
      typeof value === 'number'
        ? [value]
        : parseColor(value).map((light) => (mixing === 'seen' ? quickLinearToSrgb(light) : light));
    known.set(channel as LayerChannel, mixed);
  }
  return {
    channels: [...known.keys()],
    read: (channel, { count }, out) => fillPlanes(known.get(channel)!, count, out),
  };
}
