/** Files beyond these are not taken from dropped folders. */
const MOST_DROPPED = 2000;
const KNOWN =
  /\.(mid|midi|smf|rmi|kar|json|csv|vtt|wav|wave|flac|mp3|ogg|oga|opus|m4a|aac|zip|quilljob|quilltarget|mod|s3m|xm|it)$/i;

const endingOf = (name: string) => /\.[^.]+$/.exec(name)?.[0].toLowerCase() ?? '';

export interface DroppedFiles {
  readonly files: File[];
  /** Files of folders that are none of these kinds, or too many. */
  readonly skipped?: number;
}

/**
 * The files of a drop; of folders all that may be sources, in the order of their paths.
 * @param data has to be read before the event is over
 */
export async function droppedFiles(
  data: DataTransfer | null,
  ofOwn: ReadonlySet<string> = new Set(),
): Promise<DroppedFiles> {
  const entries = [...(data?.items ?? [])].map((item) => item.webkitGetAsEntry?.() ?? null);
  if (!entries.some((e) => e?.isDirectory)) return { files: [...(data?.files ?? [])] };
  const loose = [...(data?.files ?? [])].filter((_, i) => entries[i]?.isFile);
  const out = { files: [...loose], skipped: 0 };
  for (const entry of entries)
    if (entry?.isDirectory) await walk(entry as FileSystemDirectoryEntry, ofOwn, out);
  return out;
}

async function walk(
  folder: FileSystemDirectoryEntry,
  ofOwn: ReadonlySet<string>,
  out: { files: File[]; skipped: number },
): Promise<void> {
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
    if (entry.isDirectory) await walk(entry as FileSystemDirectoryEntry, ofOwn, out);
    else if (
      out.files.length >= MOST_DROPPED ||
      !(KNOWN.test(entry.name) || ofOwn.has(endingOf(entry.name))) ||
      /^receipt\./.test(entry.name)
    )
      out.skipped++;
    else
      out.files.push(
        await new Promise<File>((done, failed) =>
          (entry as FileSystemFileEntry).file(done, failed),
        ),
      );
  }
}
