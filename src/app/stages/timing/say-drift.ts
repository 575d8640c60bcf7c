import { plain } from '../../../core/target/words';

/** Of so many points the range is told; more change nothing that is read. */
const MOST = 5000;

export const sayOff = (ms: number): string =>
  (Math.abs(ms) >= 1000 ? `${plain(Math.round(ms / 10) / 100)} s` : `${Math.round(ms)} ms`).replace(
    '-',
    '−',
  );

/**
 * How far two are apart, in words.
 *
 * @param offs milliseconds, in the order of the song
 * @param within so many milliseconds are as good as none
 */
export function sayDrift(offs: readonly number[], within: number): string {
  if (offs.length === 0) return 'no note is matched with another';
  const some = offs.slice(0, MOST);
  const [low, high] = [Math.min(...some), Math.max(...some)];
  // Alike all along is one number, and that is the news.
  if (isFlat(offs, within)) return `${sayOff((low + high) / 2)} all along`;
  return `from ${sayOff(low)} to ${sayOff(high)}, ${sayOff(offs[0]!)} at the start, ${sayOff(offs.at(-1)!)} at the end`;
}

/** Alike all along, as far as the target minds. */
export function isFlat(offs: readonly number[], within: number): boolean {
  const some = offs.slice(0, MOST);
  return Math.max(...some) - Math.min(...some) <= Math.max(2, within);
}
