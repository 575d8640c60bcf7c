import type { LineNotes, OutputLine } from '../../reading/lines';
import type { Target } from '../../target/schema';

type Rung = NonNullable<NonNullable<Target['chart']>['rungs']>[number];

/** A rung and its keys on a seat; null where all keys of the seat are of it. */
export interface RungSet {
  readonly rung: Rung;
  readonly keys: readonly number[] | null;
}

/** The rung that a seat is, or, where rungs are told by keys, all of them. */
export function rungsOf({ chart, seats }: Target, group: OutputLine): RungSet[] {
  const rungs = chart?.rungs ?? [];
  const seat = seats.find((s) => s.id === group.parts[0]?.seat);
  if (seat?.kind === 'laneGroup' && seat.rung !== undefined)
    return rungs.filter((r) => r.rung === seat.rung).map((rung) => ({ rung, keys: null }));
  return rungs.flatMap((rung) => (rung.laneNotes ? [{ rung, keys: rung.laneNotes }] : []));
}

/** The notes of some keys. */
export function only(notes: LineNotes, keys: ReadonlySet<number>): LineNotes {
  const at: number[] = [];
  for (let i = 0; i < notes.count; i++) if (keys.has(notes.noteNumber[i]!)) at.push(i);
  return {
    count: at.length,
    start: Int32Array.from(at, (i) => notes.start[i]!),
    end: Int32Array.from(at, (i) => notes.end[i]!),
    noteNumber: Uint8Array.from(at, (i) => notes.noteNumber[i]!),
    id: Uint32Array.from(at, (i) => notes.id[i]!),
  };
}
