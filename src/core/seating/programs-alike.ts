import { firstProgram } from '../reading/importance/measures';
import type { Part } from '../score/score';
import type { Seat } from '../target/schema';

/** Sounds of General MIDI that stand in for each other, beyond their groups of eight. */
const ALIKE: readonly (readonly number[])[] = [
  [0, 1, 2, 16, 17, 18, 19, 20, 21, 23],
  [8, 14, 112, 113, 114],
  [24, 25, 26, 27, 28, 45, 46, 104, 105, 106, 107, 15],
  [32, 43, 58, 87],
  [40, 41, 42, 44, 48, 49, 50, 51, 88, 89, 94],
  [52, 53, 54, 85, 91],
  [56, 57, 60, 61, 62, 63],
  [64, 65, 66, 68, 69, 70, 71, 21, 22, 109, 111],
  [72, 73, 74, 75, 76, 77, 78, 79],
];

/**
 * Whether the seat's own sounds hold the part's program (1), one of its group or much like it (less),
 * or none (below 0): it would sound as something that it is not. 0 where either says nothing.
 */
export function programFit(part: Part, seat: Seat): number {
  if (!seat.sounds || seat.sounds.length === 0) return 0;
  const program = part.events.count > 0 ? firstProgram(part) : null;
  if (program === null) return 0;
  const sounds = seat.sounds.map((s) => s.program);
  if (sounds.includes(program)) return 1;
  if (sounds.some((s) => s >> 3 === program >> 3)) return 0.7;
  if (ALIKE.some((group) => group.includes(program) && sounds.some((s) => group.includes(s))))
    return 0.4;
  return -0.3;
}
