/** Files beyond these are not taken from dropped folders. */
const MOST_DROPPED = 2000;
const KNOWN =
  /\.(mid|midi|smf|rmi|kar|json|csv|vtt|wav|wave|flac|mp3|ogg|oga|opus|m4a|aac|zip|quilljob)$/i;

/**
 * The files of a drop; of folders all that may be sources, in the order of their paths.
 * @param data has to be read before the event is over
 */
export async function droppedFiles(data: DataTransfer | null): Promise<File[]> {
  const entries = [...(data?.items ?? [])].map((item) => item.webkitGetAsEntry?.() ?? null);
  if (!entries.some((e) => e?.isDirectory)) return [...(data?.files ?? [])];
  const loose = [...(data?.files ?? [])].filter((_, i) => entries[i]?.isFile);
  const out: File[] = [...loose];
  for (const entry of entries)
    if (entry?.isDirectory) await walk(entry as FileSystemDirectoryEntry, out);
  return out;
}

async function walk(folder: FileSystemDirectoryEntry, out: File[]): Promise<void> {
  const reader = folder.createReader();
  const found: FileSystemEntry[] = [];
  // A folder is given in portions; an empty one is the end.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, failed) =>
      reader.readEntries(done, failed),
    );
    if (some.length === 0) break;
    found.push(...some);
  }
  found.sort((a, b) => (a.name < b.name ? -1 : 1));
  for (const entry of found) {
    if (out.length >= MOST_DROPPED) return;
    if (entry.isDirectory) await walk(entry as FileSystemDirectoryEntry, out);
    else if (KNOWN.test(entry.name) && !/^receipt\./.test(entry.name))
      out.push(
        await new Promise<File>((done, failed) =>
          (entry as FileSystemFileEntry).file(done, failed),
        ),
      );
  }
}
