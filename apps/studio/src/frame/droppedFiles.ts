/** A file with the folders it was dropped in. */
export interface DroppedFile {
  file: File;
  /** With slashes between folders. @example 'bench/low.obj' */
  path: string;
}

/** Files beyond these are no material of one project, but a folder dropped by mistake. */
const MAX_FILES = 500;

/**
 * All files of what was dropped, folders and those within them too.
 * @throws Error in words when there are too many
 */
export async function droppedFiles(transfer: DataTransfer): Promise<DroppedFile[]> {
  // Entries are only to be had while the drop is told, so that all are asked for before anything is awaited.
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  if (entries.length === 0) return [...transfer.files].map((file) => ({ file, path: file.name }));
  const found: DroppedFile[] = [];
  for (const entry of entries) await collect(entry, found);
  return found;
}

async function collect(entry: FileSystemEntry, found: DroppedFile[]): Promise<void> {
  if (entry.name.startsWith('.')) return;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    found.push({ file, path: entry.fullPath.replace(/^\//, '') });
    if (found.length > MAX_FILES) {
      throw new Error(
        `More than ${MAX_FILES} files were dropped. Drop the folder of one model, or a ZIP of what is needed.`,
      );
    }
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // A reader gives some entries at a time, and none at the end.
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return;
    for (const each of some) await collect(each, found);
  }
}
