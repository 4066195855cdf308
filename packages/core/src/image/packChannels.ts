import type { Size } from '../math/size.ts';
import { channelFor, OPAQUE, type Image } from './image.ts';
import { resample } from './filter/resample.ts';

/** What one channel of a packed file holds: a channel of a picture, or the same number everywhere. */
export type ChannelSource =
  | { constant: number }
  | {
      image: Image;
      /** 0 to 3 for red, green, blue and alpha; grey stands for all colours. */
      channel: number;
      /** 1 − value: roughness becomes smoothness. */
      invert: boolean;
      /** The stored values that become 0 and 1. */
      levels: readonly [black: number, white: number];
    };

/**
 * Puts channels of several pictures into the channels of one; numbers go as they are stored, without any colour curve.
 * Pictures of other sizes are resampled.
 * @param sources one for each channel of the result: one, three or four of them
 * @param size of the result; that of the largest picture if left out, 1 × 1 if there are only constants
 */
export function packChannels(sources: readonly ChannelSource[], size: Size = largestOf(sources)): Image {
  const { width, height } = size;
  const channels = sources.length;
  const data = new Float32Array(width * height * channels);
  sources.forEach((source, c) => {
    if ('constant' in source) {
      for (let i = c; i < data.length; i += channels) data[i] = source.constant;
      return;
    }
    const { channel, invert, levels } = source;
    const image = resample(source.image, size, 'mitchell');
    const from = channelFor(image.channels, channel);
    const [black, white] = levels;
    const span = white - black || 1;
    for (let texel = 0; texel < width * height; texel++) {
      const stored = from === OPAQUE ? 1 : image.data[texel * image.channels + from]!;
      const value = black === 0 && white === 1 ? stored : Math.max(0, Math.min(1, (stored - black) / span));
      data[texel * channels + c] = invert ? 1 - value : value;
    }
  });
  return { width, height, channels, data };
}

function largestOf(sources: readonly ChannelSource[]): Size {
  const images = sources.flatMap((source) => ('image' in source ? [source.image] : []));
  const largest = images.reduce<Size>(
    (most, { width, height }) => (width * height > most.width * most.height ? { width, height } : most),
    { width: 1, height: 1 },
  );
  return { width: largest.width, height: largest.height };
}
