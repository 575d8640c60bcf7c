import * as z from 'zod';
import { notesWhere } from '../score/columns';
import type { Maps } from '../score/inventory';
import { OFF_MISSING, type NoteColumns } from '../score/score';
import { plain } from '../target/words';
import { applyTo, crowdsOf, Cuts, Gone, setEnds, type Crowd } from './crowd';
import { changeParts, defineStep, done } from './define-step';

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
    rowsPerSecond: z
      .number()
      .min(0.1)
      .max(1000)
      .optional()
      .describe('Counted by row of a strip, whatever sounds on'),
  }),
  describe: (p) =>
    `keep the ${p.voices === 1 ? '' : `${p.voices} `}${p.keep} ${p.rowsPerSecond === undefined ? 'at once' : `of a row (${plain(p.rowsPerSecond)} a second)`}`,
  apply({ piece, params, select, maps }) {
    const gone = new Gone();
    const cuts = new Cuts();
    for (const crowd of crowdsOf(piece, select, params.over)) {
      const worth = WORTH[params.keep](crowd);
      if (params.rowsPerSecond !== undefined) {
        const rows = new Map<number, number[]>();
        for (let n = 0; n < crowd.count; n++) {
          const row = Math.round((maps.clock.msAt(crowd.start[n]!) * params.rowsPerSecond) / 1000);
          const there = rows.get(row);
          if (there) there.push(n);
          else rows.set(row, [n]);
        }
        for (const row of rows.values())
          for (const n of row.sort(worth).slice(params.voices)) gone.add(crowd, n);
        continue;
      }
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
    lanes: z
      .array(z.int().min(0).max(127))
      .max(64)
      .optional()
      .describe('Only on these note numbers'),
  }),
  describe: (p) =>
    `thin to ${plain(p.apartMs)} ms apart${p.per === 'key' ? ' on a key' : ''}, keep the ${p.keep}`,
  apply({ piece, params, select, maps }) {
    const gone = new Gone();
    const chords = params.per === 'seat' && !params.chordsToo;
    const lanes = params.lanes && new Set(params.lanes);
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      // The last notes that were kept, struck together, in each slot.
      const slots: { kept: number[]; ms: number }[] = [];
      for (let n = 0; n < crowd.count; n++) {
        if (lanes && !lanes.has(crowd.key[n]!)) continue;
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

export const limitOpen = defineStep({
  id: 'limit-open',
  title: 'Limit open time',
  summary: 'Shortens notes so that a seat sounds no longer than it may in any stretch of time.',
  params: z.strictObject({
    mostOpenMs: z.number().min(1).max(600_000).describe('Milliseconds of sound'),
    inMs: z.number().min(1).max(600_000).describe('Milliseconds of any stretch'),
  }),
  describe: (p) => `at most ${plain(p.mostOpenMs)} ms of sound in any ${plain(p.inMs)} ms`,
  apply({ piece, params, select, maps }) {
    const cuts = new Cuts();
    const gone = new Gone();
    const { clock } = maps;
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      // Stretches in which something sounds so far; they never touch.
      const open: { from: number; to: number }[] = [];
      let first = 0;
      for (let n = 0; n < crowd.count; n++) {
        const from = clock.msAt(crowd.start[n]!);
        const to = clock.msAt(crowd.end[n]!);
        while (first < open.length && open[first]!.to <= from - params.inMs) first++;
        const end = longestEnd(open, first, from, to, params.mostOpenMs, params.inMs);
        // Less than this is no note any more.
        if (end - from < Math.min(20, to - from) - 1e-9) {
          gone.add(crowd, n);
          continue;
        }
        let tick = crowd.end[n]!;
        if (end < to - 1e-6) {
          tick = clock.tickAt(end);
          while (tick > crowd.start[n]! + 1 && clock.msAt(tick) > end + 1e-6) tick--;
          if (clock.msAt(tick) > end + 1e-6) {
            gone.add(crowd, n);
            continue;
          }
          cuts.set(crowd, n, tick);
        }
        const last = open.at(-1);
        if (last && from <= last.to) last.to = Math.max(last.to, clock.msAt(tick));
        else open.push({ from, to: clock.msAt(tick) });
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { changed: cuts.count, verb: 'shortened', dropped: gone.count },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

/**
 * The latest end of a note with which no stretch that ends there is too full. Inside a note the sum
 * only grows, so the stretch that ends with it is the fullest.
 */
function longestEnd(
  open: readonly { from: number; to: number }[],
  first: number,
  from: number,
  to: number,
  most: number,
  within: number,
): number {
  const sum = (end: number) => {
    const low = end - within;
    let total = 0;
    let covered = -Infinity;
    for (let k = first; k < open.length; k++) {
      const high = Math.min(open[k]!.to, end);
      total += Math.max(0, high - Math.max(open[k]!.from, low));
      covered = high;
    }
    // What the note itself adds behind what sounds already.
    total += Math.max(0, end - Math.max(from, low, covered));
    return total;
  };
  if (sum(to) <= most + 1e-6) return to;
  let low = from;
  let high = to;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (sum(middle) <= most) low = middle;
    else high = middle;
  }
  return low;
}

export const keepReach = defineStep({
  id: 'keep-reach',
  title: 'Keep within reach',
  summary: 'Drops what a hand cannot reach of a chord, and ends what it would have to let go.',
  params: z.strictObject({
    semitones: z.int().min(1).max(127).describe('From the lowest to the highest'),
    keep: z.enum(['lowest', 'highest']).describe('Which edge of a chord stays'),
  }),
  describe: (p) => `keep within ${p.semitones} semitones, the ${p.keep} first`,
  apply({ piece, params, select }) {
    const cuts = new Cuts();
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      let sounding: { n: number; end: number }[] = [];
      for (let from = 0; from < crowd.count;) {
        const tick = crowd.start[from]!;
        let to = from + 1;
        while (to < crowd.count && crowd.start[to] === tick) to++;
        const chord = Array.from({ length: to - from }, (_, k) => from + k);
        chord.sort((a, b) => crowd.key[a]! - crowd.key[b]!);
        const edge = params.keep === 'lowest' ? crowd.key[chord[0]!]! : crowd.key[chord.at(-1)!]!;
        const kept = chord.filter((n) => Math.abs(crowd.key[n]! - edge) <= params.semitones);
        for (const n of chord) if (!kept.includes(n)) gone.add(crowd, n);
        const low = crowd.key[kept[0]!]!;
        const high = crowd.key[kept.at(-1)!]!;
        sounding = sounding.filter(({ n, end }) => {
          if (end <= tick) return false;
          const key = crowd.key[n]!;
          if (Math.max(high, key) - Math.min(low, key) <= params.semitones) return true;
          cuts.set(crowd, n, tick);
          return false;
        });
        // What still sounds must fit as a whole.
        sounding.sort((a, b) => crowd.key[a.n]! - crowd.key[b.n]!);
        while (sounding.length > 1) {
          const lowest = Math.min(low, crowd.key[sounding[0]!.n]!);
          const highest = Math.max(high, crowd.key[sounding.at(-1)!.n]!);
          if (highest - lowest <= params.semitones) break;
          const out = params.keep === 'lowest' ? sounding.pop()! : sounding.shift()!;
          cuts.set(crowd, out.n, tick);
        }
        for (const n of kept) if (crowd.end[n]! > tick) sounding.push({ n, end: crowd.end[n]! });
        from = to;
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { dropped: gone.count, changed: cuts.count, verb: 'shortened' },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

export const dropShared = defineStep({
  id: 'drop-shared',
  title: 'Drop shared keys',
  summary: 'Where two seats would hold one key at once, keeps the note that was there first.',
  params: z.strictObject({}),
  describe: () => 'drop notes on a key that another seat holds',
  apply({ piece, select }) {
    const gone = new Gone();
    const crowds = crowdsOf(piece, select, 'seat');
    const all = crowds.flatMap((crowd, c) =>
      Array.from({ length: crowd.count }, (_, n) => ({ c, n, start: crowd.start[n]! })),
    );
    all.sort((a, b) => a.start - b.start || a.c - b.c);
    const held = new Map<number, { c: number; end: number }[]>();
    for (const { c, n, start } of all) {
      const crowd = crowds[c]!;
      const key = crowd.key[n]!;
      const there = (held.get(key) ?? []).filter((h) => h.end > start);
      if (there.some((h) => h.c !== c)) gone.add(crowd, n);
      else there.push({ c, end: crowd.end[n]! });
      held.set(key, there);
    }
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
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
