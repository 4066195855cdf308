import { readFile, realpath, stat } from 'node:fs/promises';
import path from 'node:path';
import type { FormatLimits } from '@zographos/formats/meshes';

/**
 * A file that another one names. Only what lies in the folder of that file or below is read, whatever it names and
 * wherever links lead: a mesh from elsewhere must not be able to read anything of this machine.
 * @param file that names it
 * @param part its name, relative to the folder of the file
 * @returns null where there is none, it lies elsewhere, or is larger than a file may be
 */
export async function readBeside(file: string, part: string, limits: FormatLimits): Promise<Uint8Array | null> {
  try {
    const folder = await realpath(path.dirname(file));
    const wanted = await realpath(path.resolve(folder, part));
    if (!wanted.startsWith(folder.endsWith(path.sep) ? folder : folder + path.sep)) return null;
    const info = await stat(wanted);
    return info.isFile() && info.size <= limits.bytes ? await readFile(wanted) : null;
  } catch {
    return null;
  }
}
