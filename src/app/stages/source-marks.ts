/** The mark of a source, by its place among those of the job: a, b, c. */
export const markOf = (keys: readonly string[], key: string): string =>
  String.fromCharCode(97 + (Math.max(0, keys.indexOf(key)) % 26));
