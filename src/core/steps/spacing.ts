import * as z from 'zod';
import type { Piece } from '../plan/model';
import { notesWhere, pickNotes } from '../score/columns';
import { linesOf } from '../score/lines';
import { isIn, OFF_BY_NOTE_OFF, OFF_MISSING, type NoteColumns, type Part } from '../score/score';
import type { Maps } from '../score/inventory';
import { plain } from '../target/words';
import { changeParts, defineStep, done, withScore, type Selection } from './define-step';

/** A note with its part, for steps that weigh notes of several parts against each other. */
interface Held {
  part: Part;
  index: number;
  start: number;
  end: number;
  key: number;
  velocity: number;
}

/** Notes of the parts that share a voice (or of all), by start; only those that are selected. */
function groupsOf(piece: Piece, select: Selection, over: 'seat' | 'all'): Held[][] {
  const parts =
    over === 'all' ? [piece.score.parts.filter(isIn)] : linesOf(piece).map((line) => line.parts);
  return parts.map((group) => {
    const held: Held[] = [];
    for (const part of group) {
      if (!select.part(part)) continue;
      const { notes } = part;
      for (let i = 0; i < notes.count; i++) {
        if (!select.note(part, i)) continue;
        held.push({
          part,
          index: i,
          start: notes.start[i]!,
          end: notes.end[i]!,
          key: notes.noteNumber[i]!,
          velocity: notes.velocity[i]!,
        });
      }
    }
    return held.sort((a, b) => a.start - b.start || b.key - a.key);
  });
}

/** The piece without the notes that are named by part and index. */
function withoutNotes(piece: Piece, gone: Map<Part, Set<number>>): Piece {
  if (gone.size === 0) return piece;
  const parts = piece.score.parts.map((part) => {
    const out = gone.get(part);
    if (!out) return part;
    return {
      ...part,
      notes: pickNotes(
        part.notes,
        notesWhere(part.notes, (i) => !out.has(i)),
      ),
    };
  });
  return withScore(piece, { parts });
}

class Gone {
  readonly map = new Map<Part, Set<number>>();
  count = 0;
  add({ part, index }: Held) {
    const set = this.map.get(part) ?? new Set();
    this.map.set(part, set.add(index));
    this.count++;
  }
}

const WORTH = {
  highest: (a: Held, b: Held) => b.key - a.key,
  lowest: (a: Held, b: Held) => a.key - b.key,
  loudest: (a: Held, b: Held) => b.velocity - a.velocity || b.key - a.key,
  newest: (a: Held, b: Held) => b.start - a.start || b.key - a.key,
} as const;

export const keepVoices = defineStep({
  id: 'keep-voices',
  title: 'Keep voices',
  summary: 'Where too many notes sound at once, keeps the ones that matter and drops the others.',
  params: z.strictObject({
    voices: z.int().min(1).max(127).describe('Notes that may sound at once'),
    keep: z.enum(['highest', 'lowest', 'newest', 'loudest']),
    over: z.enum(['seat', 'all']).describe('Counted by seat, or over everything'),
  }),
  describe: (p) => `keep the ${p.voices === 1 ? '' : `${p.voices} `}${p.keep} at once`,
  apply({ piece, params, select }) {
    const gone = new Gone();
    const cut = new Map<Part, Map<number, number>>();
    let shortened = 0;
    for (const group of groupsOf(piece, select, params.over)) {
      let sounding: Held[] = [];
      for (const note of group) {
        sounding = sounding.filter((s) => s.end > note.start);
        sounding.push(note);
        while (sounding.length > params.voices) {
          sounding.sort(WORTH[params.keep]);
          const least = sounding.pop()!;
          // The newest keeps sounding: what sounded before it ends where it begins.
          if (params.keep === 'newest' && least.start < note.start) {
            const ends = cut.get(least.part) ?? new Map<number, number>();
            cut.set(least.part, ends.set(least.index, note.start));
            shortened++;
          } else gone.add(least);
        }
      }
    }
    const shorter = withScore(piece, {
      parts: piece.score.parts.map((part) => {
        const ends = cut.get(part);
        return ends ? { ...part, notes: setEnds(part.notes, ends) } : part;
      }),
    });
    const moved = new Map(
      [...gone.map].map(([part, set]) => [
        shorter.score.parts[piece.score.parts.indexOf(part)]!,
        set,
      ]),
    );
    return done(
      withoutNotes(shorter, moved),
      { dropped: gone.count, changed: shortened, verb: 'shortened' },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

/** Notes with other ends; their note-offs find their own place within the tick. */
function setEnds(notes: NoteColumns, ends: ReadonlyMap<number, number>): NoteColumns {
  const end = Int32Array.from(notes.end);
  const offOrder = Uint32Array.from(notes.offOrder);
  const offKind = Uint8Array.from(notes.offKind);
  for (const [i, tick] of ends) {
    end[i] = tick;
    offOrder[i] = 0;
    if (offKind[i] === OFF_MISSING) offKind[i] = OFF_BY_NOTE_OFF;
  }
  return { ...notes, end, offOrder, offKind };
}

export const thin = defineStep({
  id: 'thin',
  title: 'Thin',
  summary: 'Drops notes that follow another too soon.',
  params: z.strictObject({
    apartMs: z.number().min(0).max(60_000).describe('Milliseconds from start to start'),
    per: z.enum(['key', 'seat']).describe('Counted on each key, or over the seat'),
    keep: z.enum(['first', 'loudest']),
    chordsToo: z
      .boolean()
      .optional()
      .describe('Over the seat: of notes struck together only one stays'),
  }),
  describe: (p) =>
    `thin to ${plain(p.apartMs)} ms apart${p.per === 'key' ? ' on a key' : ''}, keep the ${p.keep}`,
  apply({ piece, params, select, maps }) {
    const gone = new Gone();
    for (const group of groupsOf(piece, select, 'seat')) {
      const last = new Map<number, { kept: Held[]; ms: number }>();
      for (const note of group) {
        const slot = params.per === 'key' ? note.key : 0;
        const ms = maps.clock.msAt(note.start);
        const before = last.get(slot);
        const together = before?.kept[0]!.start === note.start;
        if (before && together && params.per === 'seat' && !params.chordsToo) {
          before.kept.push(note);
          continue;
        }
        // A hair's breadth under is rounding in the derived clock time, not a breach.
        if (!before || ms - before.ms >= params.apartMs - 1e-6)
          last.set(slot, { kept: [note], ms });
        else if (
          params.keep === 'loudest' &&
          before.kept.every((kept) => note.velocity > kept.velocity)
        ) {
          before.kept.forEach((kept) => gone.add(kept));
          last.set(slot, { kept: [note], ms });
        } else gone.add(note);
      }
    }
    return done(withoutNotes(piece, gone.map), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
  },
});

export const shorten = defineStep({
  id: 'shorten',
  title: 'Shorten',
  summary: 'Ends notes where the next one begins, or at a longest length.',
  params: z.strictObject({
    until: z
      .enum(['next-note', 'next-same-key', 'longest'])
      .describe('Until the next note of the seat, the next on the key, or a length'),
    longestMs: z.number().min(1).max(600_000).optional().describe('Milliseconds'),
  }),
  describe: (p) =>
    p.until === 'longest'
      ? `shorten to at most ${plain(p.longestMs ?? 0)} ms`
      : `shorten up to the next ${p.until === 'next-note' ? 'note' : 'note on the same key'}`,
  apply({ piece, params, select, maps }) {
    if (params.until === 'longest' && params.longestMs === undefined)
      return { refused: 'A longest length in milliseconds is needed.' };
    const cut = new Map<Part, Map<number, number>>();
    const set = ({ part, index }: Held, tick: number) => {
      const ends = cut.get(part) ?? new Map<number, number>();
      cut.set(part, ends.set(index, tick));
    };
    for (const group of groupsOf(piece, select, 'seat')) {
      const open = new Map<number, Held[]>();
      for (const note of group) {
        if (params.until === 'longest') {
          const end = lastTickWithin(maps, note.start, params.longestMs!);
          if (note.end > end) set(note, end);
          continue;
        }
        const slot = params.until === 'next-note' ? 0 : note.key;
        const before = (open.get(slot) ?? []).filter((o) => o.end > note.start);
        const still: Held[] = [];
        // Notes struck at the same tick cannot make room for each other.
        for (const other of before) {
          if (other.start < note.start) set(other, note.start);
          else still.push(other);
        }
        open.set(slot, [...still, note]);
      }
    }
    const parts = piece.score.parts.map((part) => {
      const ends = cut.get(part);
      return ends ? { ...part, notes: setEnds(part.notes, ends) } : part;
    });
    const changed = [...cut.values()].reduce((sum, ends) => sum + ends.size, 0);
    return done(changed === 0 ? piece : withScore(piece, { parts }), {
      changed,
      verb: 'shortened',
    });
  },
});

function lastTickWithin({ clock }: Maps, start: number, ms: number): number {
  const limit = clock.msAt(start) + ms;
  let end = Math.max(start + 1, clock.tickAt(limit));
  while (end > start + 1 && clock.msAt(end) > limit + 1e-6) end--;
  return end;
}

export const lengthen = defineStep({
  id: 'lengthen',
  title: 'Lengthen',
  summary: 'Gives short notes the least length, up to the next note on their key.',
  params: z.strictObject({ shortestMs: z.number().min(0).max(60_000).describe('Milliseconds') }),
  describe: (p) => `lengthen to at least ${plain(p.shortestMs)} ms`,
  apply(input) {
    const { params, select, maps } = input;
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const next = nextOnKey(notes);
      const ends = new Map<number, number>();
      for (let i = 0; i < notes.count; i++) {
        if (!select.note(part, i)) continue;
        const start = maps.clock.msAt(notes.start[i]!);
        if (maps.clock.msAt(notes.end[i]!) - start >= params.shortestMs - 1e-6) continue;
        let end = maps.clock.tickAt(start + params.shortestMs);
        while (maps.clock.msAt(end) - start < params.shortestMs - 1e-6) end++;
        end = Math.min(end, next[i]!);
        if (end > notes.end[i]!) ends.set(i, end);
      }
      changed += ends.size;
      return ends.size === 0 ? part : { ...part, notes: setEnds(notes, ends) };
    });
    return done(piece, { changed, verb: 'lengthened' });
  },
});

/** Start of the next note on the same key, for each note; Infinity where none follows. */
function nextOnKey(notes: NoteColumns): Float64Array {
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

export const pairStuck = defineStep({
  id: 'pair-stuck',
  title: 'Pair stuck notes',
  summary: 'Gives notes that never end a note-off.',
  params: z.strictObject({
    until: z
      .enum(['next-same-key', 'bar-end', 'median'])
      .describe(
        'Until the next note on the key, the end of the bar, or the usual length of the part',
      ),
  }),
  describe: (p) =>
    `end stuck notes at ${{ 'next-same-key': 'the next note on their key', 'bar-end': 'the end of their bar', median: 'the usual length of their part' }[p.until]}`,
  apply(input) {
    const { params, select, maps } = input;
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const stuck = notesWhere(
        notes,
        (i) => notes.offKind[i] === OFF_MISSING && select.note(part, i),
      );
      if (stuck.length === 0) return part;
      const next = nextOnKey(notes);
      const usual = medianLength(notes);
      const ends = new Map<number, number>();
      for (const i of stuck) {
        const start = notes.start[i]!;
        const barEnd = maps.bars.barStart(maps.bars.barAt(start) + 1);
        const wanted =
          params.until === 'median' && usual > 0
            ? start + usual
            : params.until === 'next-same-key' && next[i]! < Infinity
              ? next[i]!
              : barEnd;
        ends.set(i, Math.min(wanted, next[i]!));
      }
      changed += ends.size;
      return { ...part, notes: setEnds(notes, ends) };
    });
    return done(piece, { changed, verb: 'given an end' });
  },
});

function medianLength(notes: NoteColumns): number {
  const lengths = notesWhere(notes, (i) => notes.offKind[i] !== OFF_MISSING)
    .map((i) => notes.end[i]! - notes.start[i]!)
    .sort((a, b) => a - b);
  return lengths[lengths.length >> 1] ?? 0;
}
