import { mkdir, mkdtemp, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { ZographosError } from '@zographos/core/errors';
import { isUseful, unfoldArchive } from '@zographos/formats/archive';
import { writeWhole } from './writeWhole.ts';

/** What a stack with all its images may unfold to. */
const MAX_BYTES = 16 * 2 ** 30;

/**
 * Gives the path of a stack’s JSON: of a ZIP, which may hold images and materials beside it, unpacked for as long as it is
 * used.
 * @throws missing/not-found, input/unreadable-file, limit/archive
 */
export async function withStackFile<Result>(file: string, use: (json: string) => Promise<Result>): Promise<Result> {
  if (!/\.zip$/i.test(file)) return use(file);
  const bytes = await readFile(file).catch(() => {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  });
  const name = path.basename(file);
  const { files } = unfoldArchive(name, bytes, MAX_BYTES, (entry) => isUseful(entry) || entry.endsWith('.json'));
  const folder = await mkdtemp(path.join(os.tmpdir(), 'zographos-stack-'));
  try {
    for (const each of files) {
      const to = path.resolve(folder, each.name);
      // A name may lead out of the folder.
      if (!to.startsWith(folder + path.sep)) continue;
      await mkdir(path.dirname(to), { recursive: true });
      await writeWhole(to, each.bytes);
    }
    if (!files.some((each) => each.name === 'stack.json')) {
      throw new ZographosError(
        'input/unreadable-file',
        `“${name}” holds no stack.json, so it is no stack. Save one from the layers room, or print one with --example.`,
      );
    }
    return await use(path.join(folder, 'stack.json'));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
