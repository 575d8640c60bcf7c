import type { Mend } from '../finding';
import type { OutputLine } from '../../reading/lines';
import { repeatsElsewhere } from '../../steps/spacing/repeats';
import { allowedKeys, limitsFor } from '../../target/limits';
import type { Target } from '../../target/schema';
import { mend } from '../define-rule';

type Apart = { apartMs: number } | { rowsPerSecond: number; apartRows: number };

/**
 * Repeats that come too soon go to another key that the seat has: the same note in another octave, or
 * the nearest lane of its own. A drum has no octave.
 */
export function givingElsewhere(target: Target, line: OutputLine, apart: Apart): Mend[] {
  const [first] = line.parts;
  if (!first) return [];
  const seat = target.seats.find((s) => s.id === first.seat);
  if (seat?.kind === 'laneGroup') {
    const others = new Set(
      target.seats.flatMap((s) => (s.kind === 'laneGroup' && s !== seat ? s.laneNotes : [])),
    );
    const keys = seat.laneNotes.filter((k) => !others.has(k));
    if (keys.length < 2) return [];
    return [
      mend(
        'Give the repeats to the nearest free lane',
        repeatsElsewhere,
        { ...apart, by: 'nearest', keys },
        line.parts,
      ),
    ];
  }
  if (line.channel === 10) return [];
  const keys = allowedKeys(limitsFor(target, first) ?? {}).flatMap((is, key) => (is ? [key] : []));
  return [
    mend(
      'Give the repeats to another octave',
      repeatsElsewhere,
      { ...apart, by: 'octave', keys },
      line.parts,
    ),
  ];
}
