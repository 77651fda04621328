/** The files of a drop, those in folders too, in the order of their names. Hidden files are left out. */
export async function droppedFiles(transfer: DataTransfer): Promise<readonly File[]> {
  // entries are there only as long as the drop is told of
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry()).filter((e): e is FileSystemEntry => e !== null);
  if (entries.length === 0) return [...transfer.files];
  return (await Promise.all(entries.map(filesIn))).flat();
}

async function filesIn(entry: FileSystemEntry): Promise<readonly File[]> {
  if (entry.name.startsWith('.')) return [];
  if (entry.isFile) return [await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const inside: FileSystemEntry[] = [];
  // a reader gives a hundred at a time
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) break;
    inside.push(...some);
  }
  inside.sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
  const found: File[] = [];
  for (const one of inside) found.push(...(await filesIn(one)));
  return found;
}
