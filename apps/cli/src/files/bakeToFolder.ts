import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { dressed, type Dress } from '@zographos/core/image';
import { likenessSheet } from '@zographos/core/measure';
import { FIRST_TILE } from '@zographos/core/uv';
import { encodeImage, IMAGE_FORMATS, type ImageFormat } from '@zographos/formats/images';
import type { BakeOperationSettings, OperationInputs } from '@zographos/operations';
import { bakeTicket, type RunMesh } from '@zographos/operations/run';
import { loadPicture, pictureFile } from './pictureFiles.ts';
import { runContext, withThreads } from '../runContext.ts';

export interface BakeJob {
  settings: BakeOperationSettings;
  load: () => Promise<Omit<OperationInputs<RunMesh>, 'mask' | 'pictures'>>;
  /** The file of the picture that says where rays follow the receiver's own normals. */
  mask?: string | undefined;
  /** The files of pictures that lie on the sources. */
  pictures?: string[];
  format: ImageFormat;
  dress?: Dress;
  dither?: boolean;
  out: string;
  threads?: number;
}

/** Runs a bake and writes each map and report.json into a folder, which is made if it is not there. */
export async function bakeToFolder({
  settings,
  load,
  mask,
  pictures = [],
  format,
  dress = {},
  dither = false,
  out,
  threads,
}: BakeJob): Promise<void> {
  const started = performance.now();
  const inputs = await load();
  await withThreads(async () => {
    const { maps, proof, report } = await bakeTicket({
      settings,
      inputs,
      pictures: await Promise.all(pictures.map(pictureFile)),
      mask: mask ? await loadPicture(mask) : null,
      ...runContext(threads),
      loadSeconds: (performance.now() - started) / 1000,
    });
    await mkdir(out, { recursive: true });
    const encodingSince = performance.now();
    // Tile numbers stand in names only where tiles are asked for.
    const isSingle = settings.tiles.length === 1 && settings.tiles[0] === FIRST_TILE;
    for (const { kind, tile, image, states } of maps) {
      const name = `${kind}${isSingle ? '' : `.${tile}`}.${IMAGE_FORMATS[format].ending}`;
      await writeFile(path.join(out, name), await encodeImage(dressed(image, states, dress), format, { dither }));
    }
    if (proof.likeness.length > 0) {
      await writeFile(path.join(out, 'likeness.png'), await encodeImage(likenessSheet(proof.likeness), 'png8'));
    }
    report.seconds.encode = (performance.now() - encodingSince) / 1000;
    report.seconds.total = (performance.now() - started) / 1000;
    report.peakMemoryBytes = process.resourceUsage().maxRSS * 1024;
    await writeFile(path.join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`);
    for (const { sentence } of report.findings) process.stderr.write(`${sentence}\n`);
  });
}
