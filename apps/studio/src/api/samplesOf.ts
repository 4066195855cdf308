import type { Image } from '@zographos/core/image';
import { PATHS, readSamplesBody } from '@zographos/contracts';

/**
 * Samples of an image or a map as light, at most so large.
 * @param content names what it holds now, so that it is fetched again when that changes
 * @throws if the server cannot read it
 */
export async function samplesOf(id: string, content: string, side: number | 'sketch'): Promise<Image> {
  const response = await fetch(PATHS.samples(id, encodeURIComponent(content), side));
  if (!response.ok) throw new Error('The server could not read it.');
  return readSamplesBody(await response.arrayBuffer());
}
