import { unzipSync } from 'fflate';

export const MOST_ENTRIES = 2000;
export const MOST_UNPACKED_BYTES = 512 * 1024 * 1024;

export type Unpacked =
  | { readonly files: ReadonlyMap<string, Uint8Array>; readonly problem?: undefined }
  | { readonly files?: undefined; readonly problem: string };

/** Opens a pack that may come from anywhere: entries, sizes and paths are bounded before unpacking. */
export function unpackFiles(bytes: Uint8Array): Unpacked {
  let entries = 0;
  let total = 0;
  let problem: string | null = null;
  const names = new Map<string, string>();
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: (file) => {
        entries++;
        total += file.originalSize;
        if (entries > MOST_ENTRIES) problem ??= `The pack holds more than ${MOST_ENTRIES} files.`;
        if (total > MOST_UNPACKED_BYTES) problem ??= 'The pack is too large when unpacked.';
        if (!isPlainPath(file.name))
          problem ??= `The pack holds a path that leaves it: ${file.name}`;
        // Many file systems tell neither letters of two cases nor two forms of an accent apart.
        const alike = file.name.normalize('NFC').toLowerCase();
        const other = names.get(alike);
        if (other !== undefined)
          problem ??=
            other === file.name
              ? `The pack holds ${file.name} twice.`
              : `The pack holds ${other} and ${file.name}, which many cards take for one file.`;
        names.set(alike, file.name);
        return problem === null && !file.name.endsWith('/');
      },
    });
  } catch (error) {
    return { problem: `This is not a pack that can be opened: ${(error as Error).message}.` };
  }
  if (problem !== null) return { problem };
  return { files: new Map(Object.entries(files)) };
}

const isPlainPath = (path: string) =>
  path.length < 300 &&
  !path.startsWith('/') &&
  !path.includes('\\') &&
  !/^[a-z]:/i.test(path) &&
  !path.split('/').includes('..');
