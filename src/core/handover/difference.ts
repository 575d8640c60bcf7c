import type { Dropped, Happening, Played } from '../standin/played';
import type { Target } from '../target/schema';
import type { Meant } from './meant';

export interface Difference {
  readonly missing: readonly Meant[];
  readonly extra: readonly Happening[];
  readonly matched: number;
}

/** Kinds of happenings that stand for notes. */
const OF_NOTES = new Set([
  'note',
  'strike',
  'cue',
  'hole',
  'cue-value',
  'caption',
  'preset',
  'level',
]);

/** What was meant and what was played, note for note, within a microsecond. */
export function differenceOf(
  meant: readonly Meant[],
  played: Played,
  pieceOf: (file: string) => number | undefined,
  withinUs = 1,
): Difference {
  interface Point {
    readonly line: string;
    readonly atUs: number;
    readonly of: number;
  }
  const events = played.events.filter((e) => OF_NOTES.has(e.kind));
  const pointsOf = <T>(list: readonly T[], line: (t: T) => string, at: (t: T) => number): Point[] =>
    list
      .map((t, of) => ({ line: line(t), atUs: at(t), of }))
      .sort((a, b) => (a.line < b.line ? -1 : a.line > b.line ? 1 : a.atUs - b.atUs));
  const a = pointsOf(
    meant,
    (m) => `${m.piece} ${m.seat} ${m.key} ${m.text ?? ''}`,
    (m) => m.atUs,
  );
  const b = pointsOf(
    events,
    (e) =>
      e.kind === 'caption'
        ? `${pieceOf(e.file)} ${e.seat} ${-e.key} ${e.text}`
        : e.kind === 'level' || e.kind === 'preset'
          ? `${pieceOf(e.file)} ${e.seat} ${e.key} ${e.kind} ${e.value}`
          : `${pieceOf(e.file)} ${e.seat} ${e.key} `,
    (e) => e.atUs,
  );
  const missing: Meant[] = [];
  const extra: Happening[] = [];
  let matched = 0;
  let j = 0;
  for (const m of a) {
    while (
      j < b.length &&
      (b[j]!.line < m.line || (b[j]!.line === m.line && b[j]!.atUs < m.atUs - withinUs))
    )
      extra.push(events[b[j++]!.of]!);
    if (j < b.length && b[j]!.line === m.line && b[j]!.atUs <= m.atUs + withinUs) {
      matched++;
      j++;
    } else missing.push(meant[m.of]!);
  }
  for (; j < b.length; j++) extra.push(events[b[j]!.of]!);
  return { missing, extra, matched };
}

export const KIND_WORDS: Readonly<Record<Happening['kind'], string>> = {
  note: 'note',
  strike: 'strike',
  cue: 'cue',
  caption: 'caption',
  hole: 'hole',
  'cue-value': 'cue',
  tempo: 'tempo',
  marker: 'marker',
  pattern: 'link',
  preset: 'preset',
  level: 'value',
};

/** The notes that a loss may be: of one piece, by written time and key. */
export function idsByPlace(
  meant: readonly Meant[],
  pieces: ReadonlyMap<string, number | undefined>,
  target: Target,
): (d: Dropped) => number[] {
  const captions = target.captions?.noteNumber;
  const place = (piece: number | undefined, key: number, us: number) => `${piece} ${key} ${us}`;
  const byKey = new Map<string, number[]>();
  const byNumber = new Map<string, number[]>();
  const add = (map: Map<string, number[]>, at: string, id: number) => {
    const there = map.get(at);
    if (there) there.push(id);
    else map.set(at, [id]);
  };
  const coarsest = resolutionUs(target);
  const onKey = new Map<string, Meant[]>();
  for (const m of meant) {
    const own = `${m.piece} ${m.noteNumber}`;
    if (coarsest > 0) onKey.set(own, [...(onKey.get(own) ?? []), m]);
    add(byNumber, place(m.piece, m.noteNumber, m.writtenUs), m.id);
    add(byKey, place(m.piece, Math.abs(m.key), m.atUs), m.id);
  }
  return (d) => {
    const piece = pieces.get(d.file);
    const us = Math.round(d.writtenUs);
    for (const near of [us, us - 1, us + 1]) {
      // Frames and rows move notes: what was meant there counts beside what was written there.
      const key = d.file.endsWith('.vtt') ? (captions ?? -1) : d.key;
      const found = [
        ...(byNumber.get(place(piece, key, near)) ?? []),
        ...(byKey.get(place(piece, d.key, near)) ?? []),
      ];
      if (found.length > 0) return found;
    }
    // In a format of its own a time is as fine as it is written.
    return (onKey.get(`${piece} ${d.key}`) ?? [])
      .filter((m) => Math.abs(m.writtenUs - us) <= coarsest + 1)
      .map((m) => m.id);
  };
}

/** How fine the coarsest time of its own formats is: what is rounded there is no difference. */
export function resolutionUs({ formats = [] }: Pick<Target, 'formats'>): number {
  let coarsest = 0;
  const visit = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return;
    const v = node as {
      is?: string;
      unit?: string;
      rate?: number;
      ppq?: number;
      decimals?: number;
    };
    if (v.is === 'time' && v.unit !== undefined) {
      const steps = 10 ** (v.decimals ?? 0);
      // The slowest quarter that counts is two seconds long.
      const quarter = 2_000_000;
      const unit =
        { seconds: 1_000_000, ms: 1000, us: 1, frames: 1_000_000 / (v.rate ?? 25) }[v.unit] ??
        (v.unit === 'ticks' || v.unit === 'tick-of-beat' ? quarter / (v.ppq ?? 480) : quarter);
      if (v.unit !== 'bar' && v.unit !== 'beat') coarsest = Math.max(coarsest, unit / steps);
    }
    for (const inner of Object.values(node)) visit(inner);
  };
  visit(formats);
  return coarsest;
}
