import type { Part } from '../../score/score';
import { rolesIn } from './names';

/** Keys of the percussion map of General MIDI Level 1 that a kit is mostly played on. */
const [LOWEST_DRUM, HIGHEST_DRUM] = [27, 87];
const CHANNEL = 10;

/**
 * Whether a part is drums. The tenth channel is theirs (General MIDI Level 1), unless what stands on
 * it is no kit: named as a line and played as one. Elsewhere a name has to say so.
 */
export function isDrumPart(part: Part): boolean {
  if (isNamedDrums(part)) return true;
  if (part.channel !== CHANNEL) return false;
  const named = rolesIn(part.name);
  const pitchedName = named.has('lead') || named.has('bass') || named.has('voice');
  return !(pitchedName && playedAsLine(part));
}

export function isNamedDrums({ name }: Pick<Part, 'name'>): boolean {
  const named = rolesIn(name);
  return named.has('drums') && !named.has('lead');
}

/** One note at a time, many keys, by steps, held to the next. */
function playedAsLine({ notes }: Part): boolean {
  const keys = new Set<number>();
  let [steps, held, outside] = [0, 0, 0];
  for (let i = 0; i < notes.count; i++) {
    const key = notes.noteNumber[i]!;
    keys.add(key);
    if (key < LOWEST_DRUM || key > HIGHEST_DRUM) outside++;
    if (i === 0) continue;
    const by = Math.abs(key - notes.noteNumber[i - 1]!);
    if (by > 0 && by <= 4 && notes.start[i]! > notes.start[i - 1]!) steps++;
    const gap = notes.start[i]! - notes.start[i - 1]!;
    if (gap > 0 && notes.end[i - 1]! - notes.start[i - 1]! >= gap * 0.6) held++;
  }
  const of = Math.max(1, notes.count - 1);
  return outside > notes.count / 4 || (keys.size > 5 && steps > of / 2 && held > of / 2);
}
