import { db } from './db';
import type { PackedFile } from './job-file';

/*
 * Folders that the user chose, where the browser can write to them. A handle is kept by job; the
 * browser asks again whether it may be written to.
 */

interface Picker {
  showDirectoryPicker?: (options: { mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>;
}
interface Asked {
  requestPermission?: (options: { mode: 'readwrite' }) => Promise<PermissionState>;
}

export const canWriteFolders = (): boolean =>
  typeof (window as Picker).showDirectoryPicker === 'function';

/** Null where the user gave it up. */
export async function chooseFolder(): Promise<FileSystemDirectoryHandle | null> {
  try {
    return await (window as Picker).showDirectoryPicker!({ mode: 'readwrite' });
  } catch (error) {
    if ((error as Error).name === 'AbortError') return null;
    throw error;
  }
}

const keyOf = (jobId: string) => `folder ${jobId}`;

export const keepFolder = (jobId: string, folder: FileSystemDirectoryHandle): Promise<unknown> =>
  db.settings.put({ key: keyOf(jobId), value: folder });

export async function keptFolder(jobId: string): Promise<FileSystemDirectoryHandle | null> {
  if (!canWriteFolders()) return null;
  const row = await db.settings.get(keyOf(jobId));
  return (row?.value as FileSystemDirectoryHandle | undefined) ?? null;
}

/** Writes files under a folder, with the folders that their paths name. */
export async function writeFolder(
  folder: FileSystemDirectoryHandle,
  files: readonly PackedFile[],
  report: (done: number) => void,
): Promise<void> {
  const allowed = await (folder as Asked).requestPermission?.({ mode: 'readwrite' });
  if (allowed !== undefined && allowed !== 'granted')
    throw new Error('The browser does not allow it.');
  for (const [n, { path, bytes }] of files.entries()) {
    const names = path.split('/');
    let at = folder;
    for (const name of names.slice(0, -1)) at = await at.getDirectoryHandle(name, { create: true });
    const file = await at.getFileHandle(names.at(-1)!, { create: true });
    const stream = await file.createWritable();
    await stream.write(bytes as Uint8Array<ArrayBuffer>);
    await stream.close();
    report(n + 1);
  }
}
