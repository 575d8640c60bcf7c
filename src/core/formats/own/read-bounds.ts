import { placeOf } from './read-grid';
import { Unread, type ReadRow } from './read-row';

const HAIR = 1e-9;

/** A velocity that is harder or softer than the hardest and softest is none: it is not bent to fit. */
export function checkVelocities(root: ReadRow): void {
  const waiting: ReadRow[] = [root];
  for (let row = waiting.pop(); row; row = waiting.pop()) {
    for (const inner of row.rows) waiting.push(inner);
    for (const { value, said } of row.values) {
      if (value.is !== 'velocity' || typeof said === 'boolean' || said === null) continue;
      const { least = 0, most = 127 } = value;
      const [low, high] = [Math.min(least, most), Math.max(least, most)];
      const is = Number(said);
      if (is < low - HAIR || is > high + HAIR)
        throw new Unread(
          placeOf(row),
          `A velocity of ${is} stands where ${low} to ${high} is described.`,
        );
    }
  }
}
