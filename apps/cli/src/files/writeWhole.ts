import { rename, rm, writeFile } from 'node:fs/promises';

/**
 * Writes a file so that it is there whole or not at all: what cannot be finished, on a full disk say, leaves what was there.
 * @throws what the system says
 */
export async function writeWhole(file: string, bytes: Uint8Array | string): Promise<void> {
  const part = `${file}.part`;
  try {
    await writeFile(part, bytes);
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}
