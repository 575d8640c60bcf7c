/**
 * Why a file of a later version cannot be read, in a sentence; null where its version is no later
 * one. @param most the latest that is read here
 */
export function sayLater(data: unknown, key: string, most: number): string | null {
  if (typeof data !== 'object' || data === null) return null;
  const version = (data as Record<string, unknown>)[key];
  return typeof version === 'number' && version > most
    ? `It was written by a later version: its ${key} is ${version}, and up to ${most} are read here. Open it where it was written, or take a newer Wary Quill.`
    : null;
}
