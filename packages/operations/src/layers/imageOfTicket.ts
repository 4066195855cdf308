import type { Image } from '@zographos/core/image';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { asMeantBy } from '../flat/flatMap.ts';
import type { RunPicture } from '../runContext.ts';

/** An image of the ticket with its values as they are meant; colours as light. */
export async function imageOfTicket({ name, bytes, image, colorSpace, convention }: RunPicture): Promise<Image> {
  if (image) return image;
  const read = await readImageFile(name, bytes, limitsFrom(process.env));
  return asMeantBy({ ...(colorSpace ? { colorSpace } : {}), ...(convention ? { convention } : {}) }, read);
}
