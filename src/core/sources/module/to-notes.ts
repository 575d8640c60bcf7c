import type { ModuleChoices } from './choices';
import type { SampleRole } from './samples/roles';
import type { ArpeggioRow, Change, Strike } from './strikes';

/** A note of a part that is to be, by the clock. */
export interface ModuleNote {
  readonly at: number;
  readonly end: number;
  readonly key: number;
  /** 0 to 1. */
  readonly level: number;
  /** Controllers, by the clock: shares of the level, semitones, and 0 left to 1 right. */
  readonly levels: readonly Change[];
  readonly bends: readonly Change[];
  readonly pan: number;
}

/** Counts of what the choices leave behind. */
export class Lost {
  readonly #counts = new Map<string, number>();

  add(what: string, count = 1): void {
    if (count > 0) this.#counts.set(what, (this.#counts.get(what) ?? 0) + count);
  }

  list(): { what: string; count: number }[] {
    return [...this.#counts].map(([what, count]) => ({ what, count }));
  }
}

/** A level that low is not heard. */
const SILENT = 0.004;
/** Shorter gaps of silence inside a strike are part of it. */
const GAP = 0.06;
/** A slide has come to a note when it has stayed there so long. */
const SETTLED = 0.05;

const slides = (changes: readonly Change[], by: number) =>
  changes.some((c) => Math.abs(c.value - changes[0]!.value) > by);

/** What one strike becomes: often a note, several where its volume or its pitch begins anew. */
export function notesOf(
  strike: Strike,
  keyOf: (soundingKey: number) => number,
  how: Required<Pick<ModuleChoices, 'volume' | 'pitch' | 'arpeggio'>>,
  alone: boolean,
  lost: Lost,
): ModuleNote[] {
  const out: ModuleNote[] = [];
  const key = keyOf(strike.soundingKey);
  const pan = strike.pans[0]?.value ?? 0.5;
  const bends = strike.bends;
  const bent = slides(bends, 0.15);
  const spans = soundingSpans(strike);
  if (spans.length === 0) lost.add('strikes that are never heard');
  for (const [at, end] of spans) {
    const levels = within(strike.levels, at, end);
    const most = levels.reduce((top, l) => Math.max(top, l.value), 0);
    const strikes = how.volume === 'steps' ? steps(levels, at, end) : [{ at, end }];
    const express = how.volume === 'expression' && alone;
    if (slides(levels, 0.03) && !express && strikes.length === 1) lost.add('slides of volume');
    for (const span of strikes) {
      const first = within(levels, span.at, span.end)[0]?.value ?? most;
      const level = express ? most : Math.max(first, SILENT);
      const notes =
        how.pitch === 'notes' && bent ? byPitch(bends, span.at, span.end) : [{ ...span, by: 0 }];
      notes.forEach(({ at: from, end: to, by }) =>
        out.push({
          at: from,
          end: to,
          key: key + by,
          level,
          levels: express
            ? within(levels, from, to).map((l) => ({ at: l.at, value: l.value / most }))
            : [],
          bends: how.pitch === 'bends' && alone ? within(bends, from, to) : [],
          pan,
        }),
      );
    }
  }
  if (bent && (how.pitch === 'out' || (how.pitch === 'bends' && !alone)))
    lost.add('slides of pitch');
  return arpeggiated(strike, out, how.arpeggio, lost);
}

/** Where it is heard, without gaps that are too short to be ends. */
function soundingSpans({ levels, at, end }: Strike): [number, number][] {
  const out: [number, number][] = [];
  levels.forEach((l, i) => {
    if (l.value < SILENT) return;
    const from = Math.max(at, l.at);
    const to = Math.min(end, levels[i + 1]?.at ?? end);
    const last = out.at(-1);
    if (last && from - last[1] <= GAP) last[1] = to;
    else if (to > from) out.push([from, to]);
  });
  return out;
}

/** The first of changes in order of time that comes later; as many as there are where none does. */
function firstBehind(changes: readonly { readonly at: number }[], at: number): number {
  let [low, high] = [0, changes.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (changes[middle]!.at > at) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** What is in force at `from`, and what changes from there on. */
function within(changes: readonly Change[], from: number, to: number): Change[] {
  const first = firstBehind(changes, from);
  const before = changes[first - 1];
  const out: Change[] = before ? [{ at: from, value: before.value }] : [];
  for (let i = first; i < changes.length && changes[i]!.at < to; i++) out.push(changes[i]!);
  return out;
}

/** A level that rises by a fifth of full scale begins anew. */
function steps(levels: readonly Change[], at: number, end: number) {
  const starts = [at];
  let low = levels[0]?.value ?? 0;
  let rising = false;
  let before = low;
  for (const l of levels) {
    if (l.value < before) rising = false;
    before = l.value;
    // One rise is one beginning, however long it goes on.
    low = rising ? l.value : Math.min(low, l.value);
    if (l.value - low <= 0.2 || l.at - starts.at(-1)! <= GAP) continue;
    starts.push(l.at);
    rising = true;
  }
  return starts.map((s, i) => ({ at: s, end: starts[i + 1] ?? end }));
}

/** Notes where the pitch comes to rest on another key. */
function byPitch(bends: readonly Change[], at: number, end: number) {
  const changes = within(bends, at, end);
  const out: { at: number; end: number; by: number }[] = [];
  // When each comes to another key, from behind: vibrato has thousands of changes on one.
  const until = new Float64Array(changes.length);
  for (let i = changes.length - 1, other = end; i >= 0; i--) {
    const next = changes[i + 1];
    if (next && Math.round(next.value) !== Math.round(changes[i]!.value)) other = next.at;
    until[i] = other;
  }
  changes.forEach((c, i) => {
    const by = Math.round(c.value);
    const last = out.at(-1);
    const rests = until[i]! - c.at;
    if (!last) out.push({ at, end, by });
    else if (by !== last.by && rests >= SETTLED) {
      last.end = c.at;
      out.push({ at: c.at, end, by });
    }
  });
  return out.length > 0 ? out : [{ at, end, by: 0 }];
}

function arpeggiated(
  { arpeggios, chords }: Strike,
  notes: ModuleNote[],
  how: 'chord' | 'quick' | 'root',
  lost: Lost,
): ModuleNote[] {
  const beside = [...new Set(arpeggios.map((a) => a.value))].filter((v) => v > 0);
  if (beside.length === 0) return notes;
  if (how === 'root') {
    lost.add('notes of arpeggios', beside.length * notes.length);
    return notes;
  }
  if (how === 'chord')
    return notes.flatMap((n) => [
      n,
      ...beside.flatMap((by) =>
        soundingIn(chords, by, n).map(([from, to]) => ({
          ...n,
          at: from,
          end: to,
          key: n.key + by,
          levels: within(n.levels, from, to),
          bends: within(n.bends, from, to),
        })),
      ),
    ]);
  return notes.flatMap((n) => {
    const inside = within(arpeggios, n.at, n.end);
    const points = inside[0]?.at === n.at ? inside : [{ at: n.at, value: 0 }, ...inside];
    return points.map((p, i) => ({
      ...n,
      at: p.at,
      end: points[i + 1]?.at ?? n.end,
      key: n.key + p.value,
      levels: [],
      bends: [],
    }));
  });
}

/** Rows without an arpeggio that are shorter than that do not end its tones. */
const RESTS = 0.25;

/** Where a tone of arpeggios sounds inside of a note: a held note can have one chord, then another. */
function soundingIn(
  chords: readonly ArpeggioRow[],
  tone: number,
  { at, end }: ModuleNote,
): [number, number][] {
  const out: [number, number][] = [];
  let i = Math.max(0, firstBehind(chords, at) - 1);
  for (; i < chords.length && chords[i]!.at < end; i++) {
    const row = chords[i]!;
    const from = Math.max(at, row.at);
    const to = Math.min(end, row.end);
    if (to <= from || !row.tones.includes(tone)) continue;
    const last = out.at(-1);
    // Another chord in between ends it, however short it is.
    if (last && from - last[1] <= RESTS && chords[i - 1]!.at < last[1]) last[1] = to;
    else out.push([from, to]);
  }
  const last = out.at(-1);
  if (last && chords[i - 1]!.at < last[1] && end - last[1] <= RESTS) last[1] = end;
  return out;
}

/** Keys of a percussion map for a tom at many pitches, the highest first. */
const TOMS = [50, 48, 47, 45, 43, 41] as const;
const DRUM_KEYS: Partial<Record<SampleRole, number>> = {
  'bass drum': 36,
  snare: 38,
  hat: 42,
  tom: 45,
  cymbal: 49,
  'other drum': 39,
};

/** The key of the percussion map that each key of a drum becomes. */
export function drumKeys(role: SampleRole, name: string, keys: readonly number[], said?: number) {
  const own =
    said ??
    (role === 'hat' && /open|ohh/i.test(name)
      ? 46
      : role === 'cymbal' && /ride/i.test(name)
        ? 51
        : (DRUM_KEYS[role] ?? 39));
  const distinct = [...new Set(keys)].sort((a, b) => b - a);
  return new Map(
    distinct.map((key, i) => [
      key,
      role === 'tom' && said === undefined && distinct.length > 1
        ? TOMS[Math.round((i * (TOMS.length - 1)) / (distinct.length - 1))]!
        : own,
    ]),
  );
}
