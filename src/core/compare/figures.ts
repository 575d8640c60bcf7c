import type { Figures } from './say-figures';
import { areCues } from '../reading/importance/cues';
import { BASS, BEAT, importanceOf, TUNE, type Importance } from '../reading/importance/importance';
import { isDrumPart } from '../reading/importance/drums';
import { strengthAt } from '../reading/metrical';
import { sortByKey } from '../score/columns';
import { mapsOf } from '../score/inventory';
import type { Piece, Rendition } from '../score/piece';
import { isIn, ticksPerQuarterOf, type Part, type Score } from '../score/score';
import { holds } from '../target/seat-kind';
import type { Target } from '../target/schema';

/** What is followed of a source, by id of its notes and by its moments; made once for a score. */
interface Followed {
  readonly importance: Importance;
  /** Tick at which each note is struck; −1 where there is none. */
  readonly start: Int32Array;
  /** Its key; −1 of drums. */
  readonly key: Int16Array;
  /** Quarter that each note stands in, and quarters in all. */
  readonly quarters: number;
  readonly quarter: number;
  /** Two notes ever sound at once: a line alone has no chords. */
  readonly together: boolean;
}

const kept = new WeakMap<Score, Followed>();

function followedIn(score: Score): Followed {
  const there = kept.get(score);
  if (there) return there;
  const importance = importanceOf(score);
  const start = new Int32Array(score.lastId + 1).fill(-1);
  const key = new Int16Array(score.lastId + 1).fill(-1);
  const quarter = ticksPerQuarterOf(score.division);
  let last = 0;
  for (const part of score.parts) {
    const drum = isDrumPart(part);
    const { id, start: starts, noteNumber, count } = part.notes;
    for (let i = 0; i < count; i++) {
      const n = id[i]!;
      start[n] = starts[i]!;
      if (starts[i]! > last) last = starts[i]!;
      if (drum) continue;
      key[n] = noteNumber[i]!;
    }
  }
  const quarters = Math.floor(last / quarter) + 1;
  const together = soundTogether(score);
  const made = { importance, start, key, quarters, quarter, together };
  kept.set(score, made);
  return made;
}

/** Notes of a line that runs into the next a little sound together for nobody. */
const LEGATO = 1 / 8;

function soundTogether({ parts, division }: Score): boolean {
  const starts: number[] = [];
  const ends: number[] = [];
  for (const part of parts) {
    if (isDrumPart(part) || areCues(part)) continue;
    for (const tick of part.notes.start) starts.push(tick);
    for (const tick of part.notes.end) ends.push(tick);
  }
  const over = ticksPerQuarterOf(division) * LEGATO;
  let until = -Infinity;
  for (const i of sortByKey(starts)) {
    if (starts[i]! < until - over) return true;
    until = Math.max(until, ends[i]!);
  }
  return false;
}

const lanesOf = (target: Target) =>
  target.chart !== undefined ||
  target.captions !== undefined ||
  target.clock?.shift === 'common' ||
  target.seats.some((s) => s.kind === 'laneGroup');

/** Who is heard: where there are seats, whoever has none is not. */
function playerAt({ seats, seating }: Target): (part: Part) => boolean {
  const all = seating?.unseated === 'taken' || seats.every((s) => s.kind === 'file');
  return (part) => isIn(part) && (all || part.seat !== null);
}

/**
 * Tempos, words and presets are no music, nor are cues for lamps: nobody misses a tune in them. Where
 * nobody has a seat yet there is nothing to tell.
 */
const playsNoMusic = (
  target: Target,
  { pieces }: Rendition,
  plays: (part: Part) => boolean,
): boolean => {
  if (target.carrier || target.captions || target.notes?.none) return true;
  const playing = pieces.flatMap((p) => p.score.parts.filter((o) => plays(o) && o.notes.count > 0));
  return playing.every(areCues);
};

/** Where a target holds a few bars only, what counts is the bars that were chosen. */
const takesBars = ({ end, seats }: Target) =>
  end?.onlyBars !== undefined ||
  end?.mostBars !== undefined ||
  seats.some((s) => s.kind === 'file');

/**
 * How much of what a listener follows of the source is in a rendition: a note is there if its pitch
 * class is struck in its moment and heard in its place, whoever strikes it, after one transposition
 * for all; octaves are forgiven. Lanes have no pitch: there a note is told by what it came from. Linear.
 */
export function figuresOf(source: Rendition, delivered: Rendition, target: Target): Figures {
  const plays = playerAt(target);
  if (playsNoMusic(target, delivered, plays))
    return { tune: null, bass: null, beat: null, chords: null };
  const lanes = lanesOf(target);
  const bars = takesBars(target);
  const sum = { tune: new Share(), bass: new Share(), beat: new Share(), chords: new Share() };
  let chordal = false;
  source.pieces.forEach(({ score }, base) => {
    const followed = followedIn(score);
    chordal ||= followed.together;
    const own = delivered.pieces.filter((p) => (p.base ?? 0) === base);
    for (const files of bars ? own.map((p) => [p]) : [own]) {
      const heard = heardAgain(score, followed, files, { lanes, bars, plays });
      if (!bars || heard.from <= heard.to) addUp(score, followed, heard, bars, sum);
    }
  });
  const pitched = holds(target, 'pitched');
  return {
    tune: pitched ? sum.tune.of : null,
    bass: pitched && !lanes ? sum.bass.of : null,
    beat: holds(target, 'drums') && !lanes ? sum.beat.of : null,
    chords: pitched && !lanes && chordal ? sum.chords.of : null,
  };
}

/** What is heard again of one piece of the source. */
interface HeardPart {
  /** By moment: pitch classes that are struck again. */
  readonly again: Uint16Array;
  /** By id: a drum that is struck again. */
  readonly drums: Uint8Array;
  /** Stretch of the source that is there, in ticks; the end before the beginning where nothing is. */
  readonly from: number;
  readonly to: number;
}

function heardAgain(
  score: Score,
  { importance, start, key }: Followed,
  files: readonly Piece[],
  { lanes, bars, plays }: { lanes: boolean; bars: boolean; plays: (part: Part) => boolean },
): HeardPart {
  const again = new Uint16Array(importance.moments + 1);
  const drums = new Uint8Array(start.length);
  let [from, to] = [Infinity, -Infinity];
  for (const piece of files) {
    const by = lanes ? 0 : transposedBy(piece.score, key);
    const inPlace = bars ? null : placesOf(score, piece.score, start);
    for (const part of piece.score.parts) {
      if (!plays(part)) continue;
      const { origin, noteNumber, start: starts, count } = part.notes;
      for (let i = 0; i < count; i++) {
        const id = origin[i]!;
        const was = start[id] ?? -1;
        if (was < 0 || (inPlace && !inPlace(was, starts[i]!))) continue;
        if (was < from) from = was;
        if (was > to) to = was;
        const m = importance.moment[id]!;
        if (m === 0) drums[id] = 1;
        else again[m]! |= 1 << ((lanes ? key[id]! : noteNumber[i]! - by + 120) % 12);
      }
    }
  }
  return { again, drums, from, to };
}

/** Semitones that most notes of one piece moved by, from 0 to 11. */
function transposedBy(score: Score, key: Int16Array): number {
  const votes = new Uint32Array(12);
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const { origin, noteNumber, count } = part.notes;
    for (let i = 0; i < count; i++) {
      const was = key[origin[i]!] ?? -1;
      if (was >= 0) votes[(noteNumber[i]! - was + 132) % 12]!++;
    }
  }
  return votes.indexOf(Math.max(...votes));
}

/** Further than that from where its neighbours are heard a note is not heard in its place. */
const OFF_MS = 50;
/** So many notes on end are neighbours. */
const NEIGHBOURS = 48;

/**
 * Whether a note is heard in its place: beside its neighbours, however far all of them moved together
 * by a lead-in or another tempo.
 */
function placesOf(
  source: Score,
  delivered: Score,
  start: Int32Array,
): (from: number, to: number) => boolean {
  const [was, is] = [mapsOf(source).clock, mapsOf(delivered).clock];
  const parts = delivered.parts.filter(isIn);
  const most = parts.reduce((n, p) => n + p.notes.count, 0);
  const ats = new Float64Array(most);
  const bys = new Float64Array(most);
  let total = 0;
  for (const { notes } of parts)
    for (let i = 0; i < notes.count; i++) {
      const from = start[notes.origin[i]!] ?? -1;
      if (from < 0) continue;
      ats[total] = from;
      bys[total++] = is.msAt(notes.start[i]!) - was.msAt(from);
    }
  const order = sortByKey(ats.subarray(0, total));
  // Of each crowd of neighbours the middle; a place is judged by the crowd that it is in.
  const froms: number[] = [];
  const middles: number[] = [];
  const crowd = new Float64Array(NEIGHBOURS);
  for (let n = 0; n < total; n += NEIGHBOURS) {
    const size = Math.min(NEIGHBOURS, total - n);
    for (let k = 0; k < size; k++) crowd[k] = bys[order[n + k]!]!;
    froms.push(ats[order[n]!]!);
    middles.push(crowd.subarray(0, size).sort()[size >> 1]!);
  }
  return (from, to) => {
    let [low, high] = [0, froms.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (froms[mid]! <= from) low = mid + 1;
      else high = mid;
    }
    const by = is.msAt(to) - was.msAt(from);
    // A crowd may end where a tempo changes: its neighbours are asked as well.
    for (let c = low - 2; c <= low; c++)
      if (Math.abs((middles[c] ?? Infinity) - by) <= OFF_MS) return true;
    return false;
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
  { importance: { flags, moment }, quarter, quarters }: Followed,
  heard: HeardPart,
  bars: boolean,
  sum: Readonly<Record<keyof Figures, Share>>,
) {
  const strength = strengthAt(mapsOf(score).bars);
  const all = new Uint16Array(quarters);
  const again = new Uint16Array(quarters);
  const struck = new Map<number, boolean>();
  for (const { notes } of score.parts)
    for (let i = 0; i < notes.count; i++) {
      const start = notes.start[i]!;
      if (bars && (start < heard.from || start > heard.to)) continue;
      const id = notes.id[i]!;
      const flag = flags[id]!;
      if (flag & BEAT) {
        struck.set(start, struck.get(start) === true || heard.drums[id] === 1);
        continue;
      }
      // Cues are of no moment.
      if (moment[id] === 0) continue;
      const bit = 1 << (notes.noteNumber[i]! % 12);
      const there = (heard.again[moment[id]!]! & bit) !== 0 ? 1 : 0;
      if (flag & TUNE) sum.tune.add(there, 1);
      if (flag & BASS) sum.bass.add(there, 1);
      const beat = Math.floor(start / quarter);
      all[beat]! |= bit;
      if (there) again[beat]! |= bit;
    }
  for (const [tick, there] of struck) {
    const strong = strength(tick);
    sum.beat.add(there ? strong : 0, strong);
  }
  for (let b = 0; b < quarters; b++) sum.chords.add(ones(again[b]! & all[b]!), ones(all[b]!));
}

function ones(bits: number): number {
  let n = 0;
  for (let left = bits; left > 0; left &= left - 1) n++;
  return n;
}
