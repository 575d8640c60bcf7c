import * as z from 'zod';
import type { Maps } from '../../score/inventory';
import { Cuts, Gone, applyTo, crowdsOf, type Crowd } from '../crowd';
import { defineStep, done, withScore } from '../define-step';
import { plain } from '../../target/words';

const apart = {
  apartMs: z.number().min(0).max(60_000).optional().describe('Milliseconds from start to start'),
  rowsPerSecond: z.number().min(0.1).max(1000).optional().describe('Rows of a strip'),
  apartRows: z.int().min(1).max(100).optional().describe('Rows from start to start'),
};
interface Apart {
  readonly apartMs?: number | undefined;
  readonly rowsPerSecond?: number | undefined;
  readonly apartRows?: number | undefined;
}
const NOT_SAID = 'A distance is needed: milliseconds, or rows with their rate.';

/** Whether two ticks, in order, stand too close; null where no distance was said. */
function tooClose(p: Apart, { clock }: Maps): ((before: number, tick: number) => boolean) | null {
  const { apartMs, apartRows, rowsPerSecond } = p;
  if (apartRows !== undefined && rowsPerSecond !== undefined) {
    const row = (tick: number) => Math.round((clock.msAt(tick) * rowsPerSecond) / 1000);
    return (before, tick) => row(tick) - row(before) < apartRows;
  }
  if (apartMs === undefined) return null;
  return (before, tick) => clock.msAt(tick) - clock.msAt(before) < apartMs - 2e-6;
}

const sayApart = (p: Apart) =>
  p.apartRows === undefined ? `${plain(p.apartMs ?? 0)} ms` : `${p.apartRows} rows`;

/** Keys to go to, the best first. */
function waysFrom(key: number, keys: readonly number[], by: 'octave' | 'nearest'): number[] {
  const away = (k: number) => Math.abs(k - key);
  return keys
    .filter((k) => k !== key && (by === 'nearest' || away(k) % 12 === 0))
    .sort((a, b) => away(a) - away(b) || a - b);
}

export const repeatsElsewhere = defineStep({
  id: 'repeats-elsewhere',
  reach: 'notes',
  title: 'Repeats on another key',
  summary: 'Gives notes that follow the same key too soon to another key that is free there.',
  params: z.strictObject({
    ...apart,
    by: z
      .enum(['octave', 'nearest'])
      .describe('To the same note in another octave, or to the nearest key'),
    keys: z.array(z.int().min(0).max(127)).min(1).max(128).describe('Keys that may be used'),
  }),
  describe: (p) =>
    `repeats within ${sayApart(p)} to ${p.by === 'octave' ? 'another octave' : 'the nearest free key'}`,
  apply({ piece, params, select, maps }) {
    const close = tooClose(params, maps);
    if (!close) return { refused: NOT_SAID };
    const moved = new Map<number, number>();
    for (const crowd of crowdsOf(piece, select, 'seat')) turnOver(crowd, params, close, moved);
    if (moved.size === 0) return { refused: 'No other key is free where they stand.' };
    const parts = piece.score.parts.map((part) => {
      const { notes } = part;
      const noteNumber = Uint8Array.from(notes.noteNumber);
      let touched = false;
      for (let i = 0; i < notes.count; i++) {
        const to = moved.get(notes.id[i]!);
        if (to === undefined) continue;
        noteNumber[i] = to;
        touched = true;
      }
      return touched ? { ...part, notes: { ...notes, noteNumber } } : part;
    });
    return done(withScore(piece, { parts }), { changed: moved.size, verb: 'given to another key' });
  },
});

/** A key's notes as they came, which of them is next, and what was struck there last. */
interface KeyUse {
  readonly starts: number[];
  next: number;
  last: number;
  end: number;
}

/** Goes through a crowd in time; `moved` gets the new keys by note id. */
function turnOver(
  crowd: Crowd,
  { keys, by }: { readonly keys: readonly number[]; readonly by: 'octave' | 'nearest' },
  close: (before: number, tick: number) => boolean,
  moved: Map<number, number>,
) {
  const uses = new Map<number, KeyUse>();
  const useOf = (key: number) => {
    const known = uses.get(key);
    if (known) return known;
    const made: KeyUse = { starts: [], next: 0, last: -Infinity, end: -Infinity };
    uses.set(key, made);
    return made;
  };
  for (let n = 0; n < crowd.count; n++) useOf(crowd.key[n]!).starts.push(crowd.start[n]!);
  const ways = new Map<number, number[]>();
  const wasStruck = (use: KeyUse, tick: number) => use.last > -Infinity && close(use.last, tick);
  for (let n = 0; n < crowd.count; n++) {
    const [key, start, end] = [crowd.key[n]!, crowd.start[n]!, crowd.end[n]!];
    const own = useOf(key);
    own.next++;
    let use = own;
    if (wasStruck(own, start)) {
      const list = ways.get(key) ?? waysFrom(key, keys, by);
      ways.set(key, list);
      const free = list.find((k) => {
        const there = useOf(k);
        if (wasStruck(there, start) || there.end > start) return false;
        const coming = there.starts[there.next];
        return coming === undefined || (coming >= end && !close(start, coming));
      });
      if (free !== undefined) {
        const part = crowd.parts[crowd.part[n]!]!;
        moved.set(part.notes.id[crowd.index[n]!]!, free);
        use = useOf(free);
      }
    }
    use.last = start;
    use.end = Math.max(use.end, end);
  }
}

export const oneLongNote = defineStep({
  id: 'one-long-note',
  reach: 'notes',
  title: 'One long note',
  summary: 'Makes one held note of notes that follow the same key too soon.',
  params: z.strictObject(apart),
  describe: (p) => `one long note of repeats within ${sayApart(p)}`,
  apply({ piece, params, select, maps }) {
    const close = tooClose(params, maps);
    if (!close) return { refused: NOT_SAID };
    const cuts = new Cuts();
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      // By key: the note that goes on, where the last of its repeats stood, and the latest end.
      const held = new Map<number, { first: number; last: number; end: number }>();
      for (let n = 0; n < crowd.count; n++) {
        const [key, start, end] = [crowd.key[n]!, crowd.start[n]!, crowd.end[n]!];
        const before = held.get(key);
        if (!before || !close(before.last, start)) {
          held.set(key, { first: n, last: start, end });
          continue;
        }
        before.last = start;
        before.end = Math.max(before.end, end);
        gone.add(crowd, n);
        cuts.set(crowd, before.first, before.end);
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { changed: cuts.count, verb: 'held', dropped: gone.count },
      [{ what: 'notes', count: gone.count }],
    );
  },
});
