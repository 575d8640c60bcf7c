import { Bytes, type ModuleDoubt } from './bytes';
import type { Module } from './module';
import { isIt, readIt } from './read-it';
import { isOldMod, modChannels, readMod } from './read-mod';
import { isS3m, readS3m } from './read-s3m';
import { isXm, readXm } from './read-xm';

export type { ModuleDoubt } from './bytes';

/** More than anybody’s machine held; beyond it nothing is read. */
export const MOST_MODULE_BYTES = 64 * 1024 * 1024;

/** Reads a module of any of the four formats; null where the bytes are none. */
export function readModule(
  bytes: Uint8Array,
): { module: Module; doubts: readonly ModuleDoubt[] } | null {
  const b = new Bytes(bytes);
  const read = isXm(b)
    ? readXm
    : isIt(b)
      ? readIt
      : isS3m(b)
        ? readS3m
        : modChannels(b) !== null || isOldMod(b)
          ? readMod
          : null;
  return read && { module: read(b), doubts: b.doubts };
}
