import type { Piece } from '../plan/model';
import { joinNotes } from './columns';
import { isIn, type NoteColumns, type Part } from './score';

/**
 * What the far side takes for one voice: the parts that share a track and a channel as delivered.
 * A merge to one track can make two notes one, so overlaps and stuck notes are judged here.
 */
export interface OutputLine {
  readonly channel: number;
  readonly parts: readonly Part[];
  /** Notes of all its parts, sorted by start. */
  readonly notes: NoteColumns;
}

export function linesOf({ score, delivery }: Piece): OutputLine[] {
  const groups = new Map<string, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const key = delivery.layout === 'single' ? `${part.channel}` : `${part.track}/${part.channel}`;
    groups.set(key, [...(groups.get(key) ?? []), part]);
  }
  return [...groups.values()].map((parts) => ({
    channel: parts[0]!.channel,
    parts,
    notes: parts.length === 1 ? parts[0]!.notes : joinNotes(parts.map((p) => p.notes)),
  }));
}
