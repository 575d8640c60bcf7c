import type { Maps } from '../score/inventory';
import type { Part } from '../score/score';

/** What no ear tells apart: places within a bar are compared by 48ths of a quarter. */
const PLACES_A_QUARTER = 48;

/**
 * What of each bar tells it apart: what is struck, where in the bar and by whom. Velocity and
 * length do not count. Empty where nothing is struck. Linear in notes but for the order in a bar.
 */
export function barPrints(
  parts: readonly Part[],
  starts: readonly number[],
  ppq: number | null = null,
): string[] {
  const prints: string[][] = starts.slice(1).map(() => []);
  const grid = ppq === null ? 1 : Math.max(1, ppq / PLACES_A_QUARTER);
  parts.forEach((part, p) => {
    const { start, noteNumber, count: n } = part.notes;
    let bar = 0;
    for (let i = 0; i < n; i++) {
      while (bar + 1 < starts.length && start[i]! >= starts[bar + 1]!) bar++;
      const at = Math.round((start[i]! - starts[bar]!) / grid);
      prints[bar]?.push(`${p}:${at}:${noteNumber[i]!}`);
    }
  });
  return prints.map((notes) => notes.sort().join(' '));
}

/** Bars that are looked at one by one; a file that counts more is no song. */
export const MOST_BARS_LISTED = 100_000;

/** Ticks at which the bars up to an end begin, and the one behind the last. */
export const barStarts = ({ bars }: Pick<Maps, 'bars'>, endTick: number): number[] =>
  Array.from({ length: Math.min(MOST_BARS_LISTED, bars.barCount(endTick)) + 1 }, (_, bar) =>
    bars.barStart(bar),
  );
