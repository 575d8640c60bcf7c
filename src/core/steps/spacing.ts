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
  reach: 'notes',
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
          // What sounded before ends where the better one begins; what begins now and is worth
          // less does not begin.
          if (crowd.start[least]! < start) cuts.set(crowd, least, start);
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
  reach: 'notes',
  title: 'Thin',
  summary: 'Drops notes that follow another too soon, or that are too many for a second.',
  params: z.strictObject({
    apartMs: z.number().min(0).max(60_000).optional().describe('Milliseconds from start to start'),
    mostInASecond: z
      .int()
      .min(1)
      .max(1000)
      .optional()
      .describe('Strikes in any one second over the seat; a chord counts once'),
    rowsPerSecond: z.number().min(0.1).max(1000).optional().describe('Rows of a strip'),
    apartRows: z.int().min(1).max(100).optional().describe('Rows from start to start'),
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
  describe: (p) => {
    const per = p.per === 'key' ? ' on a key' : '';
    if (p.mostInASecond !== undefined) return `thin to ${p.mostInASecond} strikes a second`;
    if (p.apartRows !== undefined) return `thin to ${p.apartRows} rows apart${per}`;
    return `thin to ${plain(p.apartMs ?? 0)} ms apart${per}, keep the ${p.keep}`;
  },
  apply({ piece, params, select, maps }) {
    const { apartMs, apartRows, rowsPerSecond, mostInASecond } = params;
    const rows = apartRows !== undefined && rowsPerSecond !== undefined;
    if (apartMs === undefined && mostInASecond === undefined && !rows)
      return { refused: 'A distance is needed: milliseconds, rows, or strikes a second.' };
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      const lanes = params.lanes && new Set(params.lanes);
      const ours = Array.from({ length: crowd.count }, (_, n) => n).filter(
        (n) => lanes === undefined || lanes.has(crowd.key[n]!),
      );
      if (mostInASecond !== undefined) thinSeconds(crowd, ours, maps, mostInASecond, gone);
      else {
        const apart = rows ? apartRows : apartMs!;
        // A hair's breadth under is rounding in the derived clock time, not a breach.
        const place = rows
          ? (tick: number) => Math.round((maps.clock.msAt(tick) * rowsPerSecond) / 1000)
          : (tick: number) => maps.clock.msAt(tick) + 1e-6;
        thinApart(crowd, ours, params, place, apart, gone);
      }
    }
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
  },
});

/** Keeps what stands far enough from the last that was kept in its slot. */
function thinApart(
  crowd: Crowd,
  ours: readonly number[],
  p: { per: 'key' | 'seat'; keep: 'first' | 'loudest'; chordsToo?: boolean | undefined },
  place: (tick: number) => number,
  apart: number,
  gone: Gone,
) {
  const chords = p.per === 'seat' && !p.chordsToo;
  // The last notes that were kept, struck together, in each slot.
  const slots: { kept: number[]; at: number }[] = [];
  for (const n of ours) {
    const slot = p.per === 'key' ? crowd.key[n]! : 0;
    const before = slots[slot];
    const start = crowd.start[n]!;
    if (before && chords && crowd.start[before.kept[0]!] === start) {
      before.kept.push(n);
      continue;
    }
    const at = place(start);
    if (!before || at - before.at >= apart - 2e-6) slots[slot] = { kept: [n], at };
    else if (
      p.keep === 'loudest' &&
      before.kept.every((kept) => crowd.velocity[n]! > crowd.velocity[kept]!)
    ) {
      before.kept.forEach((kept) => gone.add(crowd, kept));
      slots[slot] = { kept: [n], at };
    } else gone.add(crowd, n);
  }
}

/** As few strikes as can be go so that no second holds more than it may. */
function thinSeconds(
  crowd: Crowd,
  ours: readonly number[],
  { clock }: Maps,
  most: number,
  gone: Gone,
) {
  /** Times of the strikes that were kept; the last `most` of them decide. */
  const kept: number[] = [];
  let tick = -1;
  let keeps = true;
  for (const n of ours) {
    if (crowd.start[n] !== tick) {
      tick = crowd.start[n]!;
      const ms = clock.msAt(tick);
      const earlier = kept[kept.length - most];
      keeps = earlier === undefined || ms - earlier >= 1000 - 1e-6;
      if (keeps) kept.push(ms);
    }
    if (!keeps) gone.add(crowd, n);
  }
}

export const shorten = defineStep({
  id: 'shorten',
  reach: 'notes',
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
      /** What was struck last in each slot, at one tick: it cannot make room for itself. */
      const open: number[][] = [];
      for (let n = 0; n < crowd.count; n++) {
        const start = crowd.start[n]!;
        if (params.until === 'longest') {
          const end = lastTickWithin(maps, start, params.longestMs!);
          if (crowd.end[n]! > end) cuts.set(crowd, n, end);
          continue;
        }
        const slot = params.until === 'next-note' ? 0 : crowd.key[n]!;
        const before = open[slot];
        if (before && crowd.start[before[0]!] === start) {
          before.push(n);
          continue;
        }
        for (const other of before ?? [])
          if (crowd.end[other]! > start) cuts.set(crowd, other, start);
        open[slot] = [n];
      }
    }
    return done(applyTo(piece, cuts, new Gone()), { changed: cuts.count, verb: 'shortened' });
  },
});

export const limitOpen = defineStep({
  id: 'limit-open',
  reach: 'notes',
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
  reach: 'notes',
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
      /** By key what sounds, and until when; a key is let go as a whole. */
      const held: { notes: number[]; until: number }[] = Array.from({ length: 128 }, () => ({
        notes: [],
        until: 0,
      }));
      const letGo = (key: number, tick: number) => {
        for (const n of held[key]!.notes) if (crowd.end[n]! > tick) cuts.set(crowd, n, tick);
        held[key] = { notes: [], until: 0 };
      };
      for (let from = 0; from < crowd.count;) {
        const tick = crowd.start[from]!;
        let to = from + 1;
        while (to < crowd.count && crowd.start[to] === tick) to++;
        // Of one start the highest stands first.
        const edge = params.keep === 'lowest' ? crowd.key[to - 1]! : crowd.key[from]!;
        let low = 127;
        let high = 0;
        const kept: number[] = [];
        for (let n = from; n < to; n++) {
          const key = crowd.key[n]!;
          if (Math.abs(key - edge) > params.semitones) gone.add(crowd, n);
          else {
            kept.push(n);
            low = Math.min(low, key);
            high = Math.max(high, key);
          }
        }
        const sounding: number[] = [];
        for (let key = 0; key < 128; key++) {
          if (held[key]!.until <= tick) held[key] = { notes: [], until: 0 };
          else if (Math.max(high, key) - Math.min(low, key) > params.semitones) letGo(key, tick);
          else sounding.push(key);
        }
        // What still sounds must fit as a whole.
        while (sounding.length > 1) {
          const lowest = Math.min(low, sounding[0]!);
          const highest = Math.max(high, sounding.at(-1)!);
          if (highest - lowest <= params.semitones) break;
          letGo(params.keep === 'lowest' ? sounding.pop()! : sounding.shift()!, tick);
        }
        for (const n of kept) {
          const there = held[crowd.key[n]!]!;
          there.notes.push(n);
          there.until = Math.max(there.until, crowd.end[n]!);
        }
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
  reach: 'notes',
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
    // By key until when each seat holds it.
    const held = new Map<number, Map<number, number>>();
    for (const { c, n, start } of all) {
      const crowd = crowds[c]!;
      const key = crowd.key[n]!;
      const there = held.get(key) ?? new Map<number, number>();
      if ([...there].some(([other, end]) => other !== c && end > start)) gone.add(crowd, n);
      else there.set(c, Math.max(there.get(c) ?? 0, crowd.end[n]!));
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
  reach: 'notes',
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
  reach: 'notes',
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
