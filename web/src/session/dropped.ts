/** A file with its path in the folder that was chosen. */
export interface PlacedFile {
  path: string;
  file: File;
}

/** The files that were dropped, those in folders with their paths; of folders only those that are wanted. */
export async function droppedFiles(
  dropped: DataTransfer,
  isWanted: (path: string) => boolean = () => true,
): Promise<PlacedFile[]> {
  const entries = [...dropped.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  if (entries.length === 0) return chosenFiles([...dropped.files]);
  return (await Promise.all(entries.map((entry) => filesIn(entry, isWanted)))).flat();
}

/** The files that were chosen. */
export function chosenFiles(files: File[]): PlacedFile[] {
  return files.map((file) => ({ path: file.webkitRelativePath || file.name, file }));
}

async function filesIn(entry: FileSystemEntry, isWanted: (path: string) => boolean): Promise<PlacedFile[]> {
  if (entry instanceof FileSystemFileEntry) {
    if (!isWanted(entry.name)) return [];
    const file = await new Promise<File>((resolve, reject) => entry.file(resolve, reject));
    return [{ path: entry.fullPath.replace(/^\//, ''), file }];
  }
  if (!(entry instanceof FileSystemDirectoryEntry)) return [];
  const reader = entry.createReader();
  const found: FileSystemEntry[] = [];
  // A reader gives a hundred at a time.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (some.length === 0) break;
    found.push(...some);
  }
  return (await Promise.all(found.map((inside) => filesIn(inside, isWanted)))).flat();
}
