import { channelsOfStack, needsPlanes, wholeProcesses, widthOf } from '@zographos/core/layers';
import { BASE_BYTES } from '../memoryLimit.ts';
import type { Estimate } from '../operation.ts';
import type { LayersSettings } from './settings.ts';

/** What a stack will need at its peak: the channels of one tile, its measured maps, and planes for what looks around. */
export function estimateLayers(settings: LayersSettings): Estimate {
  const { size, oversize, measured, materials } = settings;
  const texels = size.width * size.height * oversize ** 2;
  const channels = channelsOfStack(settings).reduce((sum, channel) => sum + widthOf(channel), 0);
  const kinds = new Set(measured.map(({ kind }) => kind)).size;
  const runs = [...wholeProcesses(settings.layers)].filter(({ measure }) => measure === 'runs').length;
  const perTexel = channels * 4 + 4 + 1 + kinds * 6 + (needsPlanes(settings) ? 24 : 0) + runs * 20;
  // A material of 2048 px with nine channels and its halves.
  const material = 2048 ** 2 * 9 * 4 * (4 / 3);
  return { rays: 0, memoryBytes: BASE_BYTES + texels * perTexel + materials.length * material };
}
