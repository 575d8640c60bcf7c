import { BASS, BEAT, importanceOf, TUNE, type Importance } from '../reading/importance/importance';
import { isDrumPart } from '../reading/importance/drums';
import { strengthAt } from '../reading/metrical';
import { mapsOf } from '../score/inventory';
import type { Rendition } from '../score/piece';
import { isIn, ticksPerQuarterOf, type Score } from '../score/score';
import { holds } from '../target/seat-kind';
import type { Target } from '../target/schema';

/**
 * What a listener follows, in shares of the source from 0 to 1: the tune, the lowest line, the beat
 * and the harmony. Null where the source has none of it, or the target cannot hold it at all.
 */
export interface Figures {
  readonly tune: number | null;
  readonly bass: number | null;
  readonly beat: number | null;
  readonly chords: number | null;
}

export const FIGURES = ['tune', 'bass', 'beat', 'chords'] as const;

/** What is heard again of one piece of the source. */
class Heard {
  /** By moment: pitch classes that are struck in the source, and again; by one transposition. */
  readonly classes: Uint16Array;
  readonly again: Uint16Array;
  /** Ticks of drums that are struck again. */
  readonly beats = new Set<number>();
  /** Stretch of the source that is there, in ticks. */
  from = Infinity;
  to = -Infinity;
  any = false;
  constructor(importance: Importance) {
    this.classes = new Uint16Array(importance.moments + 1);
    this.again = new Uint16Array(importance.moments + 1);
  }
}

/** Semitones that most notes of one piece moved by, of twelve. */
function transposedBy(score: Score, sources: ReadonlyMap<number, number>, lanes: boolean): number {
  if (lanes) return 0;
  const votes = new Uint32Array(12);
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const { origin, noteNumber, count } = part.notes;
    for (let i = 0; i < count; i++) {
      const was = sources.get(origin[i]!);
      if (was !== undefined) votes[(((noteNumber[i]! - was) % 12) + 12) % 12]!++;
    }
  }
  let best = 0;
  for (let by = 1; by < 12; by++) if (votes[by]! > votes[best]!) best = by;
  return best;
}

/** Further than that from where its neighbours are heard a note is not heard in its place. */
const OFF_MS = 50;
/** So many notes on end are neighbours. */
const NEIGHBOURS = 48;

/**
 * Whether a note is heard in its place: beside its neighbours, however far all of them moved together
 * by a lead-in or another tempo.
 */
function timesOf(
  source: Score,
  delivered: Score,
  startOf: ReadonlyMap<number, number>,
): (from: number, to: number) => boolean {
  const [was, is] = [mapsOf(source).clock, mapsOf(delivered).clock];
  const pairs: { at: number; by: number }[] = [];
  for (const part of delivered.parts) {
    if (!isIn(part)) continue;
    const { origin, start, count } = part.notes;
    for (let i = 0; i < count; i++) {
      const from = startOf.get(origin[i]!);
      if (from !== undefined) pairs.push({ at: from, by: is.msAt(start[i]!) - was.msAt(from) });
    }
  }
  pairs.sort((a, b) => a.at - b.at);
  // Of each crowd of neighbours the middle; a place is judged by the crowd that it is in.
  const crowds: { from: number; by: number }[] = [];
  for (let n = 0; n < pairs.length; n += NEIGHBOURS) {
    const crowd = pairs.slice(n, n + NEIGHBOURS);
    const by = crowd.map((p) => p.by).sort((a, b) => a - b)[crowd.length >> 1]!;
    crowds.push({ from: crowd[0]!.at, by });
  }
  return (from, to) => {
    let [low, high] = [0, crowds.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (crowds[mid]!.from <= from) low = mid + 1;
      else high = mid;
    }
    const by = is.msAt(to) - was.msAt(from);
    // A crowd may end where a tempo changes: its neighbours are asked as well.
    return [low - 2, low - 1, low].some(
      (c) => Math.abs((crowds[c]?.by ?? Infinity) - by) <= OFF_MS,
    );
  };
}

const lanesOf = (target: Target) =>
  target.chart !== undefined ||
  target.captions !== undefined ||
  target.clock?.shift === 'common' ||
  target.seats.some((s) => s.kind === 'laneGroup');

/** Where a target holds a few bars only, what counts is the bars that were chosen. */
const takesBars = ({ end, seats }: Target) =>
  end?.onlyBars !== undefined ||
  end?.mostBars !== undefined ||
  seats.some((s) => s.kind === 'file');

/**
 * How much of what a listener follows of the source is in a rendition: a note is there if its pitch
 * class is struck in its moment, whoever strikes it, after one transposition for all; octaves are
 * forgiven. Lanes have no pitch: there its moment has to be struck. Linear in notes.
 */
export function figuresOf(source: Rendition, delivered: Rendition, target: Target): Figures {
  const lanes = lanesOf(target);
  const bars = takesBars(target);
  const sum = { tune: new Share(), bass: new Share(), beat: new Share(), chords: new Share() };
  source.pieces.forEach(({ score }, base) => {
    const importance = importanceOf(score);
    const own = delivered.pieces.filter((p) => (p.base ?? 0) === base);
    const files = bars ? own.map((p) => [p]) : [own];
    for (const file of files) {
      const heard = new Heard(importance);
      const startOf = new Map<number, number>();
      const keyOf = new Map<number, number>();
      for (const part of score.parts) {
        const drum = isDrumPart(part);
        for (let i = 0; i < part.notes.count; i++) {
          const id = part.notes.id[i]!;
          startOf.set(id, part.notes.start[i]!);
          if (drum) continue;
          keyOf.set(id, part.notes.noteNumber[i]!);
          heard.classes[importance.moment[id]!]! |= 1 << (part.notes.noteNumber[i]! % 12);
        }
      }
      for (const piece of file) {
        const by = transposedBy(piece.score, keyOf, lanes);
        const inTime = bars ? () => true : timesOf(score, piece.score, startOf);
        for (const part of piece.score.parts) {
          if (!isIn(part)) continue;
          const { origin, noteNumber, start: starts, count } = part.notes;
          for (let i = 0; i < count; i++) {
            const id = origin[i]!;
            const start = startOf.get(id);
            if (start === undefined || (!bars && !inTime(start, starts[i]!))) continue;
            heard.any = true;
            heard.from = Math.min(heard.from, start);
            heard.to = Math.max(heard.to, start);
            const m = importance.moment[id]!;
            if (m === 0) heard.beats.add(start);
            else
              heard.again[m]! |= lanes
                ? heard.classes[m]!
                : 1 << ((((noteNumber[i]! - by) % 12) + 12) % 12);
          }
        }
      }
      if (bars && !heard.any) continue;
      addUp(score, importance, heard, bars, sum);
    }
  });
  const pitched = holds(target, 'pitched');
  return {
    tune: pitched ? sum.tune.of : null,
    bass: pitched && !lanes ? sum.bass.of : null,
    beat: holds(target, 'drums') ? sum.beat.of : null,
    chords: pitched && !lanes ? sum.chords.of : null,
  };
}

class Share {
  private there = 0;
  private all = 0;
  add(there: number, all: number) {
    this.there += there;
    this.all += all;
  }
  get of(): number | null {
    return this.all === 0 ? null : this.there / this.all;
  }
}

function addUp(
  score: Score,
  { flags, moment }: Importance,
  heard: Heard,
  bars: boolean,
  sum: Readonly<Record<keyof Figures, Share>>,
) {
  const maps = mapsOf(score);
  const strength = strengthAt(maps.bars);
  const quarter = ticksPerQuarterOf(score.division);
  const beats = new Map<number, [number, number]>();
  const struck = new Set<number>();
  for (const { notes } of score.parts)
    for (let i = 0; i < notes.count; i++) {
      const start = notes.start[i]!;
      if (bars && (start < heard.from || start > heard.to)) continue;
      const id = notes.id[i]!;
      const flag = flags[id]!;
      const bit = 1 << (notes.noteNumber[i]! % 12);
      const m = moment[id]!;
      const there = (heard.again[m]! & bit) !== 0 ? 1 : 0;
      if (flag & TUNE) sum.tune.add(there, 1);
      if (flag & BASS) sum.bass.add(there, 1);
      if (flag & BEAT && !struck.has(start)) {
        struck.add(start);
        const strong = strength(start);
        sum.beat.add(heard.beats.has(start) ? strong : 0, strong);
      }
      if (m > 0) {
        const beat = Math.floor(start / quarter);
        const both = beats.get(beat) ?? [0, 0];
        if (!beats.has(beat)) beats.set(beat, both);
        both[0] |= bit;
        if (there) both[1] |= bit;
      }
    }
  for (const [all, again] of beats.values()) sum.chords.add(ones(again & all), ones(all));
}

function ones(bits: number): number {
  let n = 0;
  for (let left = bits; left > 0; left &= left - 1) n++;
  return n;
}
