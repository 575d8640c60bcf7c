import { mapsOf, type Maps } from '../../score/inventory';
import { META, META_LYRIC } from '../../smf/file';
import { ticksPerQuarterOf, type Part, type Score } from '../../score/score';
import { strengthAt } from '../metrical';
import { areCues } from './cues';
import { quoted } from '../../target/words';
import { isDrumPart } from './drums';
import { bassOf, tuneOf, type LinePath } from './lines';
import { firstProgram, measure, type Measures } from './measures';
import { spansOf, type LineSpan } from './spans';
import { momentsOf, type Moments } from './moments';

/** What a note belongs to: flags. */
export const TUNE = 1;
export const BASS = 2;
export const BEAT = 4;

/** What a part is to the music where it is not the tune or the bass. */
export type PartRole =
  | 'tune'
  | 'bass'
  | 'beat'
  | 'chords'
  | 'long chords'
  | 'figure'
  | 'second line'
  | 'double'
  | 'effect'
  | 'cues';

/** Part by part: what it is, and what speaks for it in a line. */
export interface PartImportance {
  readonly part: Part;
  readonly role: PartRole;
  /** Shares of the song in which it has the tune, the bass. */
  readonly tune: number;
  readonly bass: number;
  /** Weights of all its notes together. */
  readonly weight: number;
  /** What is first to be said for it, and how it plays besides. */
  readonly brief: string;
  readonly how: readonly string[];
}

export interface Importance {
  /** Of all that have notes, in the order of the score. */
  readonly parts: readonly PartImportance[];
  /** By id of the note: what would be lost without it, about 0 to 1.5; and what it belongs to. */
  readonly weight: Float32Array;
  readonly flags: Uint8Array;
  /** By id: the moment at which it is struck, from 1; 0 of drums. */
  readonly moment: Uint32Array;
  readonly moments: number;
  readonly tune: readonly LineSpan[];
  readonly bass: readonly LineSpan[];
  of(part: Pick<Part, 'id'>): PartImportance | undefined;
  /** How much of what one part strikes another strikes as well, by pitch class. */
  alike(one: Pick<Part, 'id'>, other: Pick<Part, 'id'>): number;
}

/** Chords, struck or held. */
export const isChordal = (is: Pick<PartImportance, 'role'> | undefined): boolean =>
  is?.role === 'chords' || is?.role === 'long chords';

const kept = new WeakMap<Score, Importance>();

/** Read once for a score as it came; linear in its notes. */
export function importanceOf(score: Score): Importance {
  const there = kept.get(score);
  if (there) return there;
  const made = read(score);
  kept.set(score, made);
  return made;
}

/** So much of what a part strikes is struck by another one: it is a double. */
const DOUBLE = 0.7;

const BASE: Readonly<Record<PartRole, number>> = {
  tune: 0.5,
  bass: 0.45,
  beat: 0.4,
  chords: 0.35,
  'long chords': 0.25,
  figure: 0.4,
  'second line': 0.5,
  double: 0.1,
  effect: 0.1,
  cues: 0.5,
};
const IN_LINE = { tune: 1, bass: 0.8 };
const UNDER_LINE = 0.3;

function read(score: Score): Importance {
  const maps = mapsOf(score);
  const playing = score.parts.filter((p) => p.notes.count > 0);
  const drums = playing.filter(isDrumPart);
  // Cues move lamps: they are played by no one, and are no line.
  const cues = playing.filter((p) => !drums.includes(p) && areCues(p));
  const pitched = playing.filter((p) => !drums.includes(p) && !cues.includes(p));
  const moments = momentsOf(pitched, maps);
  const m = measure(moments, score, maps);
  const sung = pitched.map((p) =>
    (score.tracks[p.track]?.events ?? []).some((e) => e.status === META && e.type === META_LYRIC),
  );
  // Words on one track are of whoever is alone on it.
  const alone = (p: Part) => pitched.every((o) => o === p || o.track !== p.track);
  const tune = tuneOf(
    m,
    pitched,
    sung.map((s, n) => s && alone(pitched[n]!)),
  );
  const bass = bassOf(m, pitched);
  const weight = new Float32Array(score.lastId + 1);
  const flags = new Uint8Array(score.lastId + 1);
  const moment = new Uint32Array(score.lastId + 1);
  for (let k = 0; k < moments.count; k++)
    for (let n = moments.first[k]!; n < moments.first[k + 1]!; n++)
      moment[moments.parts[moments.part[n]!]!.notes.id[moments.index[n]!]!] = k + 1;
  const likeness = likenessOf(moments);
  const roles = rolesOf(m, pitched, tune, bass, likeness);
  const lines = {
    tune: spansOf(tune, m, pitched, maps, score),
    bass: spansOf(bass, m, pitched, maps, score),
  };
  weigh(moments, lines, roles, maps, score, weight, flags);
  weighDrums(drums, maps, weight, flags);
  for (const { notes } of cues) for (const id of notes.id) weight[id] = BASE.cues;
  const byId = new Map<string, PartImportance>();
  const at = new Map(pitched.map((p, n) => [p.id, n]));
  const sum = ({ notes }: Part) => {
    let total = 0;
    for (let i = 0; i < notes.count; i++) total += weight[notes.id[i]!]!;
    return total;
  };
  for (const part of playing) {
    const n = at.get(part.id);
    const told: Omit<PartImportance, 'weight' | 'part'> =
      n === undefined
        ? cues.includes(part)
          ? { role: 'cues', tune: 0, bass: 0, brief: 'its name says so', how: [] }
          : { role: 'beat', tune: 0, bass: 0, brief: '', how: [] }
        : {
            ...roles[n]!,
            tune: tune.share[n]!,
            bass: bass.share[n]!,
          };
    byId.set(part.id, { part, ...told, weight: sum(part) });
  }
  return {
    parts: [...byId.values()],
    weight,
    flags,
    moment,
    moments: moments.count,
    ...lines,
    of: ({ id }) => byId.get(id),
    alike: (one, other) => {
      const [a, b] = [at.get(one.id), at.get(other.id)];
      return a === undefined || b === undefined ? 0 : likeness[a * pitched.length + b]!;
    },
  };
}

/**
 * Share of the strikes of each part (row) at which another (column) strikes the same pitch class on
 * top; of chords the share of notes.
 */
function likenessOf({ parts, part, index, first, count }: Moments): Float32Array {
  const size = parts.length;
  const same = new Float32Array(size * size);
  const strikes = new Float32Array(size);
  const top = new Int16Array(size);
  const classes = new Uint16Array(size);
  for (let m = 0; m < count; m++) {
    const struck: number[] = [];
    for (let n = first[m]!; n < first[m + 1]!; n++) {
      const p = part[n]!;
      const key = parts[p]!.notes.noteNumber[index[n]!]!;
      if (!struck.includes(p)) {
        struck.push(p);
        top[p] = key;
        classes[p] = 0;
      } else if (key > top[p]!) top[p] = key;
      classes[p]! |= 1 << (key % 12);
    }
    for (const p of struck) {
      strikes[p]!++;
      for (const q of struck) {
        if (p === q) continue;
        const single = (classes[p]! & (classes[p]! - 1)) === 0;
        const alike = single
          ? top[p]! % 12 === top[q]! % 12
          : (classes[p]! & ~classes[q]!) === 0 || classes[p] === classes[q];
        if (alike) same[p * size + q]!++;
      }
    }
  }
  for (let p = 0; p < size; p++)
    for (let q = 0; q < size; q++) same[p * size + q]! /= Math.max(1, strikes[p]!);
  return same;
}

type Told = Pick<PartImportance, 'role' | 'brief' | 'how'>;

/** Fewer notes than that in a song are no part of it that would be missed. */
const FEW = 8;
const BIGGEST_SHARE = 0.3;

function rolesOf(
  m: Measures,
  parts: readonly Part[],
  tune: LinePath,
  bass: LinePath,
  likeness: Float32Array,
): Told[] {
  const size = parts.length;
  const sum = (of: Float32Array, p: number) => {
    let total = 0;
    for (let w = 0; w < m.windows; w++) total += of[w * size + p]!;
    return total;
  };
  const most = Math.max(0, ...tune.share);
  // Of two that are one line that one is the double which is less the tune or the bass.
  const rank = parts.map((_, p) => tune.share[p]! * 2 + bass.share[p]! + tune.worth[p]! * 0.01);
  return parts.map((part, p): Told => {
    const strikes = sum(m.strikes, p);
    const voices = sum(m.notes, p) / Math.max(1, strikes);
    const inBars = (share: number) => `in ${Math.round(share * 100)} % of the song`;
    const how = [
      voices <= 1.15 ? 'one note at a time' : `${voices.toFixed(1)} notes at once`,
      sum(m.steps, p) > strikes * 0.4 ? 'mostly by steps' : '',
      m.sameFigure[p]! > 0.5 ? 'the same in most bars' : '',
    ].filter(Boolean);
    if (tune.share[p]! >= BIGGEST_SHARE || (tune.share[p]! === most && most > 0))
      return { role: 'tune', brief: inBars(tune.share[p]!), how };
    if (bass.share[p]! >= BIGGEST_SHARE)
      return { role: 'bass', brief: `the lowest ${inBars(bass.share[p]!)}`, how };
    let of = -1;
    for (let q = 0; q < size; q++)
      if (q !== p && rank[q]! > rank[p]! && likeness[p * size + q]! >= DOUBLE)
        if (of < 0 || likeness[p * size + q]! > likeness[p * size + of]!) of = q;
    if (of >= 0) {
      const share = likeness[p * size + of]!;
      const brief = `${Math.round(share * 100)} % of it as ${quoted(parts[of]!.name)}`;
      return { role: 'double', brief, how: [] };
    }
    const program = firstProgram(part);
    if (strikes < FEW || (program !== null && program >= 120))
      return { role: 'effect', brief: strikes < FEW ? 'a few notes' : 'a noise', how: [] };
    const ms = sum(m.heard, p) / Math.max(1, strikes);
    if (voices >= 1.8) return { role: ms >= 1200 ? 'long chords' : 'chords', brief: '', how };
    const figure = m.sameFigure[p]! > 0.4 || m.sameRhythm[p]! > 0.7;
    return { role: figure ? 'figure' : 'second line', brief: '', how };
  });
}

/** Weights and flags of the notes of pitched parts. */
function weigh(
  { parts, part, index, first, count, tick }: Moments,
  lines: Pick<Importance, 'tune' | 'bass'>,
  roles: readonly Told[],
  { bars, clock }: Maps,
  score: Score,
  weight: Float32Array,
  flags: Uint8Array,
) {
  const strength = strengthAt(bars);
  const quarter = ticksPerQuarterOf(score.division);
  const [whoTune, whoBass] = [lines.tune, lines.bass].map((spans) => whoIn(spans, parts)) as [
    (tick: number) => number,
    (tick: number) => number,
  ];
  const lastEnd = new Float64Array(parts.length).fill(-Infinity);
  for (let at = 0; at < count; at++) {
    const [to, until] = [first[at]!, first[at + 1]!];
    const place = 0.55 + 0.45 * strength(tick[at]!);
    const [t, b] = [whoTune(tick[at]!), whoBass(tick[at]!)];
    let [tuneNote, bassNote, high, low] = [-1, -1, to, to];
    const keyOf = (n: number) => parts[part[n]!]!.notes.noteNumber[index[n]!]!;
    for (let n = to; n < until; n++) {
      const key = keyOf(n);
      if (part[n] === t && (tuneNote < 0 || key > keyOf(tuneNote))) tuneNote = n;
      if (part[n] === b && (bassNote < 0 || key < keyOf(bassNote))) bassNote = n;
      if (key > keyOf(high)) high = n;
      if (key < keyOf(low)) low = n;
    }
    if (bassNote === tuneNote) bassNote = -1;
    for (let n = to; n < until; n++) {
      const p = part[n]!;
      const { notes } = parts[p]!;
      const i = index[n]!;
      const id = notes.id[i]!;
      const { role } = roles[p]!;
      let base =
        n === tuneNote
          ? IN_LINE.tune
          : n === bassNote
            ? IN_LINE.bass
            : p === t || p === b
              ? UNDER_LINE
              : BASE[role];
      if (n === high && n !== tuneNote) base += 0.25;
      if (n === low && n !== bassNote && n !== tuneNote) base += 0.15;
      if (clock.msAt(notes.start[i]!) - lastEnd[p]! > 600) base += 0.05;
      base += 0.1 * Math.min(1, (notes.end[i]! - notes.start[i]!) / quarter);
      weight[id] = base * place * (0.85 + (0.15 * notes.velocity[i]!) / 127);
      flags[id] = n === tuneNote ? TUNE : n === bassNote ? BASS : 0;
    }
    lessForDoubled(to, until, keyOf, (n) => parts[part[n]!]!.notes.id[index[n]!]!, weight);
    for (let n = to; n < until; n++) {
      const { notes } = parts[part[n]!]!;
      lastEnd[part[n]!] = Math.max(lastEnd[part[n]!]!, clock.msAt(notes.end[index[n]!]!));
    }
  }
}

/** Least of what another note has at the same pitch, less where one has its pitch class. */
function lessForDoubled(
  from: number,
  to: number,
  keyOf: (n: number) => number,
  idOf: (n: number) => number,
  weight: Float32Array,
) {
  if (to - from < 2) return;
  const best = new Map<number, number>();
  for (let n = from; n < to; n++) {
    const there = best.get(keyOf(n) % 12);
    if (there === undefined || weight[idOf(n)]! > weight[idOf(there)]!) best.set(keyOf(n) % 12, n);
  }
  for (let n = from; n < to; n++) {
    const first = best.get(keyOf(n) % 12)!;
    if (first !== n) weight[idOf(n)]! *= keyOf(first) === keyOf(n) ? 0.25 : 0.6;
  }
}

const isMain = (key: number) => (key >= 35 && key <= 40) || key === 43;

function weighDrums(
  drums: readonly Part[],
  { bars }: Maps,
  weight: Float32Array,
  flags: Uint8Array,
) {
  const strength = strengthAt(bars);
  for (const { notes } of drums)
    for (let i = 0; i < notes.count; i++) {
      const id = notes.id[i]!;
      const base = isMain(notes.noteNumber[i]!) ? 0.6 : 0.35;
      weight[id] =
        base * (0.6 + 0.4 * strength(notes.start[i]!)) * (0.7 + (0.3 * notes.velocity[i]!) / 127);
      flags[id] = BEAT;
    }
}

/** Who has a line at a tick, asked for in the order of time: an index, −1 where nobody has. */
function whoIn(spans: readonly LineSpan[], parts: readonly Part[]): (tick: number) => number {
  const by = spans.map((s) => parts.indexOf(s.part));
  let n = 0;
  return (tick) => {
    while (n < spans.length && spans[n]!.toTick <= tick) n++;
    return n < spans.length && spans[n]!.fromTick <= tick ? by[n]! : -1;
  };
}
