/** Largest file that is read, in bytes. */
export const LARGEST_FILE_BYTES = 64 * 1024 * 1024;
