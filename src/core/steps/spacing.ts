import * as z from 'zod';
import type { Piece } from '../plan/model';
import { notesWhere, pickNotes, sortByKey } from '../score/columns';
import { seatPartsOf } from '../score/lines';
import { isIn, OFF_BY_NOTE_OFF, OFF_MISSING, type NoteColumns, type Part } from '../score/score';
import type { Maps } from '../score/inventory';
import { plain } from '../target/words';
import { changeParts, defineStep, done, withScore, type Selection } from './define-step';

/**
 * The selected notes of the parts that share a voice (or of all parts), in columns: by start, of one
 * start the highest first.
 */
interface Crowd {
  readonly count: number;
  readonly parts: readonly Part[];
  /** Which of `parts`, and which of its notes. */
  readonly part: Uint32Array;
  readonly index: Uint32Array;
  readonly start: Int32Array;
  readonly end: Int32Array;
  readonly key: Uint8Array;
  readonly velocity: Uint8Array;
}

function crowdsOf(piece: Piece, select: Selection, over: 'seat' | 'all'): Crowd[] {
  const groups = over === 'all' ? [piece.score.parts.filter(isIn)] : seatPartsOf(piece);
  return groups.map((group) => crowdOf(group.filter(select.part), select));
}

function crowdOf(parts: readonly Part[], select: Selection): Crowd {
  const most = parts.reduce((n, p) => n + p.notes.count, 0);
  const part = new Uint32Array(most);
  const index = new Uint32Array(most);
  const sorting = new Float64Array(most);
  let count = 0;
  parts.forEach((of, p) => {
    const { start, noteNumber } = of.notes;
    for (let i = 0; i < of.notes.count; i++) {
      if (!select.note(of, i)) continue;
      part[count] = p;
      index[count] = i;
      sorting[count++] = start[i]! * 128 + 127 - noteNumber[i]!;
    }
  });
  const order = sortByKey(sorting.subarray(0, count));
  const crowd = {
    count,
    parts,
    part: new Uint32Array(count),
    index: new Uint32Array(count),
    start: new Int32Array(count),
    end: new Int32Array(count),
    key: new Uint8Array(count),
    velocity: new Uint8Array(count),
  };
  for (let n = 0; n < count; n++) {
    const { notes } = parts[part[order[n]!]!]!;
    const i = index[order[n]!]!;
    crowd.part[n] = part[order[n]!]!;
    crowd.index[n] = i;
    crowd.start[n] = notes.start[i]!;
    crowd.end[n] = notes.end[i]!;
    crowd.key[n] = notes.noteNumber[i]!;
    crowd.velocity[n] = notes.velocity[i]!;
  }
  return crowd;
}

/** Notes that a step takes out, by part. */
class Gone {
  readonly marks = new Map<Part, Uint8Array>();
  count = 0;
  add(crowd: Crowd, n: number) {
    const part = crowd.parts[crowd.part[n]!]!;
    let marks = this.marks.get(part);
    if (!marks) this.marks.set(part, (marks = new Uint8Array(part.notes.count)));
    if (marks[crowd.index[n]!] === 0) this.count++;
    marks[crowd.index[n]!] = 1;
  }
}

/** Notes that a step ends elsewhere, by part: note to tick. */
class Cuts {
  readonly ends = new Map<Part, Map<number, number>>();
  set(crowd: Crowd, n: number, tick: number) {
    const part = crowd.parts[crowd.part[n]!]!;
    const ends = this.ends.get(part) ?? new Map<number, number>();
    this.ends.set(part, ends.set(crowd.index[n]!, tick));
  }
  get count(): number {
    return [...this.ends.values()].reduce((sum, ends) => sum + ends.size, 0);
  }
}

/** The piece with notes ended elsewhere and notes taken out; untouched parts are shared. */
function applyTo(piece: Piece, { ends }: Cuts, { marks }: Gone): Piece {
  if (ends.size === 0 && marks.size === 0) return piece;
  const parts = piece.score.parts.map((part) => {
    const cut = ends.get(part);
    const gone = marks.get(part);
    const notes = cut ? setEnds(part.notes, cut) : part.notes;
    if (gone) {
      const kept = notesWhere(notes, (i) => gone[i] === 0);
      return { ...part, notes: pickNotes(notes, kept) };
    }
    return cut ? { ...part, notes } : part;
  });
  return withScore(piece, { parts });
}

/** Which of two notes of a crowd is worth less comes last. */
const WORTH: Record<
  'highest' | 'lowest' | 'loudest' | 'newest',
  (c: Crowd) => (a: number, b: number) => number
> = {
  highest: (c) => (a, b) => c.key[b]! - c.key[a]!,
  lowest: (c) => (a, b) => c.key[a]! - c.key[b]!,
  loudest: (c) => (a, b) => c.velocity[b]! - c.velocity[a]! || c.key[b]! - c.key[a]!,
  newest: (c) => (a, b) => c.start[b]! - c.start[a]! || c.key[b]! - c.key[a]!,
};

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
    const cuts = new Cuts();
    for (const crowd of crowdsOf(piece, select, params.over)) {
      const worth = WORTH[params.keep](crowd);
      const sounding: number[] = [];
      for (let n = 0; n < crowd.count; n++) {
        const start = crowd.start[n]!;
        let still = 0;
        for (const s of sounding) if (crowd.end[s]! > start) sounding[still++] = s;
        sounding.length = still;
        sounding.push(n);
        while (sounding.length > params.voices) {
          sounding.sort(worth);
          const least = sounding.pop()!;
          // The newest keeps sounding: what sounded before it ends where it begins.
          if (params.keep === 'newest' && crowd.start[least]! < start)
            cuts.set(crowd, least, start);
          else gone.add(crowd, least);
        }
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { dropped: gone.count, changed: cuts.count, verb: 'shortened' },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

/** Notes with other ends; their note-offs find their own place within the tick. */
export function setEnds(notes: NoteColumns, ends: ReadonlyMap<number, number>): NoteColumns {
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
    const chords = params.per === 'seat' && !params.chordsToo;
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      // The last notes that were kept, struck together, in each slot.
      const slots: { kept: number[]; ms: number }[] = [];
      for (let n = 0; n < crowd.count; n++) {
        const slot = params.per === 'key' ? crowd.key[n]! : 0;
        const before = slots[slot];
        const start = crowd.start[n]!;
        if (before && chords && crowd.start[before.kept[0]!] === start) {
          before.kept.push(n);
          continue;
        }
        const ms = maps.clock.msAt(start);
        // A hair's breadth under is rounding in the derived clock time, not a breach.
        if (!before) slots[slot] = { kept: [n], ms };
        else if (ms - before.ms >= params.apartMs - 1e-6) {
          before.kept.length = 1;
          before.kept[0] = n;
          before.ms = ms;
        } else if (
          params.keep === 'loudest' &&
          before.kept.every((kept) => crowd.velocity[n]! > crowd.velocity[kept]!)
        ) {
          before.kept.forEach((kept) => gone.add(crowd, kept));
          slots[slot] = { kept: [n], ms };
        } else gone.add(crowd, n);
      }
    }
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
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
    const cuts = new Cuts();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      const open: number[][] = [];
      for (let n = 0; n < crowd.count; n++) {
        const start = crowd.start[n]!;
        if (params.until === 'longest') {
          const end = lastTickWithin(maps, start, params.longestMs!);
          if (crowd.end[n]! > end) cuts.set(crowd, n, end);
          continue;
        }
        const slot = params.until === 'next-note' ? 0 : crowd.key[n]!;
        const before = (open[slot] ??= []);
        let still = 0;
        for (const other of before) {
          if (crowd.end[other]! <= start) continue;
          // Notes struck at the same tick cannot make room for each other.
          if (crowd.start[other]! < start) cuts.set(crowd, other, start);
          else before[still++] = other;
        }
        before.length = still;
        before.push(n);
      }
    }
    return done(applyTo(piece, cuts, new Gone()), { changed: cuts.count, verb: 'shortened' });
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
