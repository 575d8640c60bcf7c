import { placeOf } from './read-grid';
import { Unread, type ReadRow, type ReadValue } from './row';

const HAIR = 1e-9;

/** Harder and softer than the hardest and softest there is no velocity. */
export function isBounded({ value, said }: ReadValue): boolean {
  if (value.is !== 'velocity' || typeof said === 'boolean' || said === null) return true;
  const { least = 0, most = 127 } = value;
  const is = Number(said);
  return is >= Math.min(least, most) - HAIR && is <= Math.max(least, most) + HAIR;
}

/** A velocity that is harder or softer than the hardest and softest is none: it is not bent to fit. */
export function checkVelocities(root: ReadRow): void {
  const waiting: ReadRow[] = [root];
  for (let row = waiting.pop(); row; row = waiting.pop()) {
    for (const inner of row.rows) waiting.push(inner);
    for (const own of row.values) {
      if (isBounded(own) || own.value.is !== 'velocity') continue;
      const { least = 0, most = 127 } = own.value;
      const [low, high] = [Math.min(least, most), Math.max(least, most)];
      throw new Unread(
        placeOf(row),
        `A velocity of ${Number(own.said)} stands where ${low} to ${high} is described.`,
      );
    }
  }
}
