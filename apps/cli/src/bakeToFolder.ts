import os from 'node:os';
import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { encodeImage, IMAGE_FORMATS, type ImageFormat } from '@zographos/formats/images';
import type { BakeOperationSettings, OperationInputs } from '@zographos/operations';
import { closeBakePool, memoryLimitBytes, runBake, type RunMesh } from '@zographos/operations/run';

export interface BakeJob {
  settings: BakeOperationSettings;
  load: () => Promise<OperationInputs<RunMesh>>;
  format: ImageFormat;
  out: string;
  threads?: number;
}

/** Runs a bake and writes each map and report.json into a folder, which is made if it is not there. */
export async function bakeToFolder({ settings, load, format, out, threads }: BakeJob): Promise<void> {
  const started = performance.now();
  const inputs = await load();
  try {
    const { maps, report } = await runBake({
      settings,
      inputs,
      threads: threads ?? os.availableParallelism(),
      memoryLimitBytes: memoryLimitBytes(),
      cancelFlag: new Int32Array(1),
      loadSeconds: (performance.now() - started) / 1000,
      onProgress: () => {},
    });
    await mkdir(out, { recursive: true });
    const encodingSince = performance.now();
    for (const { kind, image } of maps) {
      await writeFile(path.join(out, `${kind}.${IMAGE_FORMATS[format].ending}`), await encodeImage(image, format));
    }
    report.seconds.encode = (performance.now() - encodingSince) / 1000;
    report.seconds.total = (performance.now() - started) / 1000;
    report.peakMemoryBytes = process.resourceUsage().maxRSS * 1024;
    await writeFile(path.join(out, 'report.json'), `${JSON.stringify(report, null, 2)}\n`);
    for (const { sentence } of report.findings) process.stderr.write(`${sentence}\n`);
  } finally {
    await closeBakePool();
  }
}
