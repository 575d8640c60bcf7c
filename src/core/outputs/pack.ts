import { zipSync, type Zippable } from 'fflate';

/** ZIP begins in 1980; a fixed time, so that the same files give the same pack. */
const FIXED_TIME = new Date(1980, 0, 1, 0, 0, 0);

export function packFiles(files: readonly { path: string; bytes: Uint8Array }[]): Uint8Array {
  const entries: Zippable = {};
  for (const { path, bytes } of files) entries[path] = [bytes, { mtime: FIXED_TIME, level: 6 }];
  return zipSync(entries);
}
