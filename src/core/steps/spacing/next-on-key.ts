import type { NoteColumns } from '../../score/score';

/** Start of the next note on the same key, for each note; Infinity where none follows. */
export function nextOnKey(notes: NoteColumns): Float64Array {
  const out = new Float64Array(notes.count).fill(Infinity);
  const next = new Map<number, number>();
  for (let i = notes.count - 1; i >= 0; i--) {
    const key = notes.noteNumber[i]!;
    const start = notes.start[i]!;
    const follower = next.get(key);
    if (follower !== undefined) out[i] = follower > start ? follower : Infinity;
    if (follower === undefined || start < follower) next.set(key, start);
  }
  return out;
}
