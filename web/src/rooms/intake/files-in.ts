// filesIn returns the files that were dropped, with those in folders, however deep; hidden ones
// are left out.
export async function filesIn(dropped: DataTransfer): Promise<File[]> {
  const entries = [...dropped.items].flatMap((item) => item.webkitGetAsEntry() ?? [])
  return (await Promise.all(entries.map(under))).flat()
}

async function under(entry: FileSystemEntry): Promise<File[]> {
  if (entry.name.startsWith(".")) return []
  if (entry.isFile) return [await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail))]
  const reader = (entry as FileSystemDirectoryEntry).createReader()
  const all: File[] = []
  // A reader gives a folder's entries a hundred at a time.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail))
    if (some.length === 0) return all
    all.push(...(await Promise.all(some.map(under))).flat())
  }
}
