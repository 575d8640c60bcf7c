import type { NoteColumns } from '../score/score';
import type { Clock } from '../time/tempo-map';
import { plain } from '../target/words';

export interface Variation {
  /** Up to so much louder or softer. */
  readonly velocity: number;
  /** Up to so many milliseconds earlier or later. */
  readonly ms: number;
}

/** What of a pass is not as it was written. */
export interface Varied {
  readonly notes: NoteColumns;
  readonly differ: number;
  /** Least and most, of velocity and of milliseconds. */
  readonly louder: readonly [number, number];
  readonly later: readonly [number, number];
}

/**
 * Notes a little otherwise. What is struck together stays together; nothing moves by more than a
 * third of the way to the strike beside it, before the start of the stretch, or ends later than it
 * would: no order changes and no note runs into another.
 */
export function varied(
  notes: NoteColumns,
  { velocity, ms }: Variation,
  { clock, from, to }: { readonly clock: Clock; readonly from: number; readonly to: number },
  pick: (below: number) => number,
): Varied {
  const next = {
    start: Int32Array.from(notes.start),
    end: Int32Array.from(notes.end),
    velocity: Uint8Array.from(notes.velocity),
  };
  const within = (most: number) => pick(2 * most + 1) - most;
  const louder: [number, number] = [0, 0];
  const later: [number, number] = [0, 0];
  let differ = 0;
  let before = -1;
  /** Where the last note of each key ends, as varied. */
  const ends = new Map<number, number>();
  for (let first = 0; first < notes.count;) {
    const at = notes.start[first]!;
    let end = first + 1;
    while (end < notes.count && notes.start[end] === at) end++;
    const wantedMs = within(Math.round(ms * 10)) / 10;
    const wanted = clock.tickAt(clock.msAt(at) + wantedMs) - at;
    let back = Math.floor((before < 0 ? at - from : at - before) / 3);
    for (let i = first; i < end; i++) {
      const rings = ends.get(notes.noteNumber[i]!) ?? 0;
      if (rings <= at) back = Math.min(back, at - rings);
    }
    const on = Math.floor(((end < notes.count ? notes.start[end]! : to) - at) / 3);
    const by = Math.max(-back, Math.min(on, wanted));
    for (let i = first; i < end; i++) {
      next.start[i] = at + by;
      next.end[i] = Math.max(at + by + 1, notes.end[i]! + Math.min(0, by));
      ends.set(notes.noteNumber[i]!, next.end[i]!);
      const was = notes.velocity[i]!;
      next.velocity[i] = Math.max(1, Math.min(127, was + within(velocity)));
      const loud = next.velocity[i]! - was;
      if (by !== 0 || loud !== 0) differ++;
      louder[0] = Math.min(louder[0], loud);
      louder[1] = Math.max(louder[1], loud);
    }
    const moved = clock.msAt(at + by) - clock.msAt(at);
    later[0] = Math.min(later[0], moved);
    later[1] = Math.max(later[1], moved);
    before = at;
    first = end;
  }
  return { notes: { ...notes, ...next }, differ, louder, later };
}

const signed = (n: number) => `${n < 0 ? '−' : '+'}${plain(Math.abs(Math.round(n * 10) / 10))}`;

/** "pass 2: 14 notes differ, velocity −5 to +6, −3.1 to +8 ms". */
export function sayVaried(pass: number, all: readonly Varied[]): string {
  const differ = all.reduce((n, v) => n + v.differ, 0);
  if (differ === 0) return `pass ${pass}: as written`;
  const least = (of: (v: Varied) => readonly [number, number]) =>
    Math.min(...all.map((v) => of(v)[0]));
  const most = (of: (v: Varied) => readonly [number, number]) =>
    Math.max(...all.map((v) => of(v)[1]));
  const range = (of: (v: Varied) => readonly [number, number]) =>
    `${signed(least(of))} to ${signed(most(of))}`;
  return `pass ${pass}: ${differ} ${differ === 1 ? 'note differs' : 'notes differ'}, velocity ${range(
    (v) => v.louder,
  )}, ${range((v) => v.later)} ms`;
}
