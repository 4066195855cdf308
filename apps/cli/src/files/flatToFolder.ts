import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import type { Image } from '@zographos/core/image';
import { encodeImage, flatFormat, IMAGE_FORMATS, type ImageFormat } from '@zographos/formats/images';
import type { FlatReport } from '@zographos/operations';
import { asMeantBy, makeFlat, meaningsOf, measureFlat, type FlatWork } from '@zographos/operations/run';
import { runContext } from '../runContext.ts';

/**
 * Makes flat maps of pictures and writes each and report.json into a folder, which is made if it is not there.
 * @param stored as they were read from files, in the order of the settings; changed in place
 */
export async function flatToFolder(
  work: FlatWork,
  stored: readonly Image[],
  { format, out }: { format: ImageFormat; out: string },
): Promise<FlatReport> {
  const since = performance.now();
  const meanings = meaningsOf(work);
  const pictures = stored.map((image, i) => (meanings[i] ? asMeantBy(meanings[i], image) : image));
  const maps = await makeFlat(work, pictures, runContext());
  await mkdir(out, { recursive: true });
  for (const { kind, image } of maps) {
    const own = flatFormat(kind, format);
    await writeFile(path.join(out, `${kind}.${IMAGE_FORMATS[own].ending}`), await encodeImage(image, own));
  }
  const report = measureFlat(maps, (performance.now() - since) / 1000);
  await writeFile(path.join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`);
  return report;
}
