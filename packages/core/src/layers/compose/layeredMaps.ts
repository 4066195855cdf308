import { quickSrgbToLinear } from '../../color/srgb.ts';
import { GLTF_NORMAL } from '../../image/convention.ts';
import type { Image } from '../../image/image.ts';
import type { Size } from '../../math/size.ts';
import { isColorChannel, widthOf, type LayerChannel } from '../channels.ts';
import type { LayerPlanes } from './layerPlanes.ts';
import type { Stack } from '../stack.ts';

/** A composed channel as a map: colours as light, normals as glTF has them, heights in millimetres about the surface. */
export function mapOfChannel(
  { channels }: LayerPlanes,
  channel: LayerChannel,
  size: Size,
  mixing: Stack['mixing'],
): Image {
  const data = channels[channel]!;
  const image: Image = { ...size, channels: widthOf(channel), data };
  if (isColorChannel(channel)) {
    if (mixing === 'seen') for (let i = 0; i < data.length; i++) data[i] = quickSrgbToLinear(Math.max(0, data[i]!));
    return { ...image, colorSpace: 'srgb' };
  }
  if (channel === 'normal') {
    for (let i = 0; i < data.length; i++) data[i] = data[i]! * 0.5 + 0.5;
    return { ...image, convention: { of: 'direction', ...GLTF_NORMAL } };
  }
  if (channel !== 'height') return image;
  let most = 0;
  for (const value of data) most = Math.max(most, Math.abs(value));
  const span = 2 * most || 1;
  return {
    ...image,
    range: [-span / 2, span / 2],
    convention: { of: 'height', unit: 'mm', mid: 0.5, span },
  };
}
