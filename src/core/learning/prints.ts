import { META } from '../smf/file';
import { firstTickOf, ticksPerQuarterOf, type Score } from '../score/score';

/** What two files can have alike, each by itself: a number stands for all that it says. */
export const FACTS = [
  'format',
  'ppq',
  'tempo',
  'meter',
  'start',
  'rhythm',
  'lengths',
  'keys',
  'velocities',
  'channels',
  'tracks',
  'controllers',
  'programs',
  'bends',
  'aftertouch',
  'sysex',
  'markers',
  'texts',
  'end',
] as const;
export type Fact = (typeof FACTS)[number];
export interface Prints {
  readonly of: Readonly<Record<Fact, number>>;
  /** The least prints of single notes, place and key: how many notes two files share is told by them. */
  readonly notes: readonly number[];
}

/** As many prints of single notes as tell well enough how much two files share. */
const SKETCH = 128;

/** FNV-1a over 32-bit numbers. */
class Print {
  value = 2166136261;
  add(n: number): void {
    this.value = Math.imul(this.value ^ (n | 0), 16777619) >>> 0;
  }
}

/**
 * A print of each fact of a file. Places count in 960ths of a quarter from the first note, so that a
 * file that begins later, or has another PPQ, differs in that alone; what stands at tick 0 stays there.
 */
export function printsOf(score: Score, format: number): Prints {
  const quarter = ticksPerQuarterOf(score.division);
  const first = firstTickOf(score) ?? 0;
  const place = (tick: number) =>
    tick === 0 && first > 0 ? -1 : Math.round(((tick - first) * 960) / quarter);
  const prints = Object.fromEntries(FACTS.map((f) => [f, new Print()])) as Record<Fact, Print>;
  prints.format.add(format);
  prints.ppq.add(score.division.kind === 'ppq' ? quarter : -quarter);
  prints.start.add(Math.round((first * 960) / quarter));
  for (const t of score.conductor.tempos) {
    prints.tempo.add(place(t.tick));
    prints.tempo.add(t.microsecondsPerQuarter);
  }
  for (const m of score.conductor.meters) {
    prints.meter.add(place(m.tick));
    prints.meter.add(m.numerator * 1000 + m.denominator);
  }
  let last = first;
  const single = new Set<number>();
  for (const { notes, events, channel, track } of score.parts) {
    if (notes.count > 0) {
      prints.channels.add(channel);
      prints.tracks.add(track);
    }
    for (let i = 0; i < notes.count; i++) {
      prints.rhythm.add(place(notes.start[i]!));
      prints.lengths.add(Math.round(((notes.end[i]! - notes.start[i]!) * 960) / quarter));
      prints.keys.add(notes.noteNumber[i]!);
      prints.velocities.add(notes.velocity[i]!);
      const own = new Print();
      own.add(place(notes.start[i]!));
      own.add(notes.noteNumber[i]!);
      // FNV leaves neighbours near each other: spread, so that the least are any.
      single.add(Math.imul(own.value ^ (own.value >>> 15), 2246822519) >>> 0);
      if (notes.end[i]! > last) last = notes.end[i]!;
    }
    for (let i = 0; i < events.count; i++) {
      const kind = events.kind[i]!;
      const to =
        kind === 0xb0
          ? prints.controllers
          : kind === 0xc0
            ? prints.programs
            : kind === 0xe0
              ? prints.bends
              : prints.aftertouch;
      for (const n of [place(events.tick[i]!), kind, events.data1[i]!, events.data2[i]!]) to.add(n);
    }
  }
  for (const m of score.conductor.markers) {
    prints.markers.add(place(m.tick));
    for (const byte of m.bytes) prints.markers.add(byte);
  }
  for (const t of score.tracks) {
    prints.end.add(Math.round(((t.endTick - last) * 960) / quarter));
    for (const e of t.events) {
      const to = e.status === META ? prints.texts : prints.sysex;
      to.add(place(e.tick));
      to.add(e.type);
      for (const byte of e.bytes) to.add(byte);
    }
  }
  return {
    of: Object.fromEntries(FACTS.map((f) => [f, prints[f].value])) as Record<Fact, number>,
    notes: [...single].sort((a, b) => a - b).slice(0, SKETCH),
  };
}

/** Of the notes of both files the share that both have, 0 to 1: by the least prints of all. */
export function sharedNotes(a: Prints, b: Prints): number {
  const all = [...new Set([...a.notes, ...b.notes])].sort((x, y) => x - y).slice(0, SKETCH);
  if (all.length === 0) return 1;
  const [inA, inB] = [new Set(a.notes), new Set(b.notes)];
  return all.filter((n) => inA.has(n) && inB.has(n)).length / all.length;
}
