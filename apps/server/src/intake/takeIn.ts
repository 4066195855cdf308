import { ZographosError } from '@zographos/core/errors';
import { isCompanion, KNOWN_FORMATS } from '@zographos/formats/archive';
import { imageFormatOf } from '@zographos/formats/images';
import type { Existing, IntakeResult, ServerEvent } from '@zographos/contracts';
import { readAssets } from '../data/readProject.ts';
import type { Services } from '../services.ts';
import { readOnThread } from './intakeDesk.ts';
import { takeInFile, type IncomingFile, type TakenFile } from './takeInFile.ts';

/** Files that are read at once, each on a thread of its own; one that takes long holds up none but its own place. */
const AT_ONCE = 3;

/**
 * Turns stored files into meshes and images of a project. A bad file does not keep out the others.
 * @param options.existing what becomes of files whose name is known
 * @param options.signal ends the reading; what was taken in until then stays
 * @param options.onReading told whenever the reading of a file begins or ends, so that others see at once what came in
 * @throws run/cancelled
 */
export async function takeIn(
  services: Services,
  projectId: string,
  incoming: IncomingFile[],
  { existing = 'ask', signal, onReading }: TakeInOptions = {},
): Promise<IntakeResult> {
  const { files, failures } = await unfolded(services, incoming, signal);
  // Pictures are brought in for themselves, and as what materials name.
  const besides = files.filter((file) => isCompanion(file.name) || imageFormatOf(file.name));
  const wanted = files.filter((file) => !isCompanion(file.name));
  // Files are listed as they were sent, whichever was read first.
  const begun = Date.now();
  const results: Awaited<ReturnType<typeof one>>[] = [];
  const reading = new Set<string>();
  let next = 0;
  let done = 0;
  const tell = async (): Promise<void> => onReading?.({ done, files: wanted.length, now: [...reading] });
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      while (next < wanted.length) {
        const i = next++;
        const { name } = wanted[i]!;
        reading.add(name);
        await tell();
        results[i] = await one(wanted[i]!, new Date(begun + i));
        reading.delete(name);
        done++;
        await tell();
      }
    }),
  );
  const taken = new Set(results.flatMap((result) => ('assetIds' in result ? result.assetIds : [])));
  const all = await readAssets(services.database, projectId);
  return {
    assets: all.filter((asset) => taken.has(asset.id)),
    failures: [...failures, ...results.filter((result) => 'code' in result)],
    revisions: results.flatMap((result, i) =>
      'wouldRevise' in result ? [{ file: wanted[i]!.name, names: result.wouldRevise }] : [],
    ),
  };

  async function one(file: IncomingFile, at: Date): Promise<TakenFile | IntakeResult['failures'][number]> {
    try {
      return await takeInFile(services, projectId, file, besides, { existing, at, ...(signal ? { signal } : {}) });
    } catch (error) {
      return failureOf(file.name, error);
    }
  }
}

export interface TakeInOptions {
  existing?: Existing;
  signal?: AbortSignal;
  onReading?: (reading: Reading) => Promise<void>;
}

/** How far the reading of some files is. */
export type Reading = Pick<Extract<ServerEvent, { type: 'reading' }>, 'done' | 'files' | 'now'>;

function failureOf(file: string, error: unknown): IntakeResult['failures'][number] {
  if (error instanceof ZographosError && error.code !== 'run/cancelled')
    return { file, code: error.code, message: error.message };
  throw error;
}

/** Files that hold several, taken apart: archives, and the layers of OpenEXR. */
async function unfolded(
  { blobs, config }: Services,
  incoming: IncomingFile[],
  signal?: AbortSignal,
): Promise<{ files: IncomingFile[]; failures: IntakeResult['failures'] }> {
  const files: IncomingFile[] = [];
  const failures: IntakeResult['failures'] = [];
  for (const file of incoming) {
    const ending = /\.(zip|exr)$/i.exec(file.name)?.[1]?.toLowerCase();
    if (!ending) {
      files.push(file);
      continue;
    }
    try {
      if (ending === 'exr') {
        const bytes = await blobs.readBytes(file.blob.hash);
        const question = { kind: 'exrLayers', name: file.name, bytes, limits: config.limits } as const;
        const layers = await readOnThread(question, { signal });
        if (layers.files.length === 0) files.push(file);
        for (const each of layers.files) files.push({ name: each.name, blob: await blobs.writeBytes(each.bytes) });
        continue;
      }
      const bytes = await blobs.readBytes(file.blob.hash);
      const { maxExpandedBytes } = config;
      const archive = await readOnThread({ kind: 'archive', name: file.name, bytes, maxExpandedBytes }, { signal });
      if (archive.others) failures.push(leftOut(file.name, archive.others));
      for (const entry of archive.files) files.push({ name: entry.name, blob: await blobs.writeBytes(entry.bytes) });
    } catch (error) {
      failures.push(failureOf(file.name, error));
    }
  }
  return { files, failures };
}

function leftOut(file: string, { first, count }: { first: string; count: number }): IntakeResult['failures'][number] {
  const what = count === 1 ? `“${first}” is` : `${count} files, “${first}” among them, are`;
  return {
    file,
    code: 'input/wrong-file-type',
    message: `“${file}”: ${what} neither mesh nor image, and left out. What is known: ${KNOWN_FORMATS}.`,
  };
}
