import { realpath, rename, rm, stat, writeFile } from 'node:fs/promises';

/**
 * Writes a file so that it is there whole or not at all: what cannot be finished, on a full disk say, leaves what was there.
 * A link is followed, and what is no file, such as a pipe, is written to as it is.
 * @throws what the system says
 */
export async function writeWhole(file: string, bytes: Uint8Array | string): Promise<void> {
  const target = await realpath(file).catch(() => file);
  const isFile = await stat(target).then(
    (known) => known.isFile(),
    () => true,
  );
  if (!isFile) {
    await writeFile(target, bytes);
    return;
  }
  const part = `${target}.part`;
  try {
    await writeFile(part, bytes);
    await rename(part, target);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}
