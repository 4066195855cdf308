import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { encodeImage, IMAGE_FORMATS, type ImageFormat } from '@zographos/formats/images';
import type { FlatReport } from '@zographos/operations';
import { asMeantBy, makeFlat, meaningsOf, measureFlat, type FlatWork } from '@zographos/operations/run';
import { loadPicture } from './pictureFiles.ts';
import { runContext } from './runContext.ts';

/**
 * Makes flat maps of picture files and writes each and report.json into a folder, which is made if it is not there.
 * @param files in the order of the settings
 */
export async function flatToFolder(
  work: FlatWork,
  files: readonly string[],
  { format, out }: { format: ImageFormat; out: string },
): Promise<FlatReport> {
  const since = performance.now();
  const meanings = meaningsOf(work);
  const loaded = await Promise.all(files.map(loadPicture));
  const pictures = loaded.map((image, i) => (meanings[i] ? asMeantBy(meanings[i], image) : image));
  const maps = await makeFlat(work, pictures, runContext());
  await mkdir(out, { recursive: true });
  for (const { kind, image } of maps) {
    // Heights in units of the world lie outside 0 to 1.
    const own: ImageFormat = kind === 'displacement' ? 'exr' : format;
    await writeFile(path.join(out, `${kind}.${IMAGE_FORMATS[own].ending}`), await encodeImage(image, own));
  }
  const report = measureFlat(maps, (performance.now() - since) / 1000);
  await writeFile(path.join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`);
  return report;
}
