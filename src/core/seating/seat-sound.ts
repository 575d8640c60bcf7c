import type { Seat } from '../target/schema';

/** General MIDI has its 128 programs in families of eight. */
const FAMILY = 8;

/**
 * The program that a part gets with a seat; null where it keeps its own: the seat names no sounds, or
 * has it. Else the neighbour of it (it was counted from the other end), one of its family, the first.
 */
export function programAt(
  seat: Pick<Seat, 'sounds'> | undefined,
  program: number | null,
): number | null {
  const sounds = seat?.sounds ?? [];
  if (sounds.length === 0 || sounds.some((s) => s.program === program)) return null;
  if (program === null) return sounds[0]!.program;
  const beside = sounds.find((s) => Math.abs(s.program - program) === 1);
  const alike = sounds.find((s) => Math.floor(s.program / FAMILY) === Math.floor(program / FAMILY));
  return (beside ?? alike ?? sounds[0]!).program;
}
