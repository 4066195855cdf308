import { unzipSync, type Unzipped, type UnzipFileFilter } from 'fflate';
import { ZographosError } from '@zographos/core/errors';
import { damagedArchive, sizeGuard } from './sizeGuard.ts';
import { isUseful } from './usefulFiles.ts';

export interface UnfoldedArchive {
  /** Meshes, images and what they may refer to, without a folder that is around everything. */
  files: { name: string; bytes: Uint8Array }[];
  /** What else there is and is left out; null for nothing. */
  others: { first: string; count: number } | null;
}

/** Files of one archive: more are no model, and each costs some time. */
const MAX_ARCHIVE_FILES = 2000;

/**
 * Takes those files out of a ZIP archive that may be of use; the announced sizes are added up before anything is unfolded.
 * @throws limit/archive, input/empty-file, input/unreadable-file
 * @param maxExpandedBytes what it may unfold to
 * @param isWanted which entries are unfolded: meshes, images and their companions by default
 */
export function unfoldArchive(
  name: string,
  bytes: Uint8Array,
  maxExpandedBytes: number,
  isWanted: (entry: string) => boolean = isUseful,
): UnfoldedArchive {
  const guard = sizeGuard(name, maxExpandedBytes);
  let wanted = 0;
  const others: string[] = [];
  const entries = unzipped(name, bytes, {
    filter: (info) => {
      const { name: entry } = info;
      if (entry.endsWith('/') || /^__MACOSX\/|(^|\/)\./.test(entry)) return false;
      if (!isWanted(entry)) {
        others.push(entry);
        return false;
      }
      guard(info);
      if (++wanted > MAX_ARCHIVE_FILES) {
        throw new ZographosError(
          'limit/archive',
          `“${name}” holds more than ${MAX_ARCHIVE_FILES} meshes and images. Pack those of one model and import them by themselves.`,
        );
      }
      return true;
    },
  });
  const names = Object.keys(entries);
  if (names.length === 0 && others.length === 0) {
    throw new ZographosError(
      'input/empty-file',
      `“${name}” holds no files. Pack it again with what is to be imported.`,
    );
  }
  // A folder around everything says nothing; those within tell files of one name apart.
  const around = [...names, ...others].map(folderOf).reduce(commonFolder);
  return {
    files: Object.entries(entries).map(([entry, content]) => ({ name: entry.slice(around.length), bytes: content })),
    others: others.length > 0 ? { first: others[0]!, count: others.length } : null,
  };
}

/** With its slash; empty for none. */
const folderOf = (name: string): string => name.slice(0, name.lastIndexOf('/') + 1);

/** The folder that two folders lie in, with its slash. */
function commonFolder(a: string, b: string): string {
  let end = 0;
  for (let i = 0; i < Math.min(a.length, b.length) && a[i] === b[i]; i++) if (a[i] === '/') end = i + 1;
  return a.slice(0, end);
}

/** @throws input/unreadable-file for one that is cut off, or in a way of packing that is unknown here */
function unzipped(name: string, bytes: Uint8Array, options: { filter: UnzipFileFilter }): Unzipped {
  try {
    return unzipSync(bytes, options);
  } catch (error) {
    throw error instanceof ZographosError ? error : damagedArchive(name, error);
  }
}
