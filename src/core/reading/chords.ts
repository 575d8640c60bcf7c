/** Notes of the chord zone that begin this close together were meant as one chord. */
export const CHORD_SPREAD_MS = 60;

export interface ChordZone {
  readonly chordLowest?: number | undefined;
  readonly chordHighest?: number | undefined;
  readonly triggerLowest?: number | undefined;
  readonly triggerHighest?: number | undefined;
}

export interface Chord {
  readonly first: number;
  last: number;
  /** Places of its notes in the columns that were looked at. */
  readonly indices: number[];
  /** A trigger key is struck within the time of its first and of its last note. */
  struck: boolean;
}

/**
 * The chords of a channel, and whether each has a trigger key. Two of one key are two chords, and
 * what is struck together is never parted by a key that is struck again.
 * @param notes in order of their starts
 */
export function chordsOf(
  notes: { count: number; start: ArrayLike<number>; noteNumber: ArrayLike<number> },
  clock: { msAt(tick: number): number },
  zone: ChordZone,
  withinMs: number,
): Chord[] {
  const { chordLowest = 0, chordHighest = 127, triggerLowest, triggerHighest } = zone;
  const out: Chord[] = [];
  const triggers: number[] = [];
  let inChord = new Set<number>();
  /** A key of the chord is struck again at this tick: all of the tick is of the next one. */
  let again = false;
  for (let i = 0; i < notes.count; i++) {
    if (i === 0 || notes.start[i] !== notes.start[i - 1]) {
      again = false;
      for (let k = i; k < notes.count && notes.start[k] === notes.start[i]; k++) {
        const inZone = notes.noteNumber[k]! >= chordLowest && notes.noteNumber[k]! <= chordHighest;
        if (inZone && inChord.has(notes.noteNumber[k]!)) again = true;
      }
    }
    const key = notes.noteNumber[i]!;
    const tick = notes.start[i]!;
    if (triggerLowest !== undefined && triggerHighest !== undefined)
      if (key >= triggerLowest && key <= triggerHighest) triggers.push(clock.msAt(tick));
    if (key < chordLowest || key > chordHighest) continue;
    const chord = out.at(-1);
    const near = chord && clock.msAt(tick) - clock.msAt(chord.first) <= CHORD_SPREAD_MS;
    if (chord && near && !again && !inChord.has(key)) {
      chord.last = tick;
      chord.indices.push(i);
    } else {
      out.push({ first: tick, last: tick, indices: [i], struck: false });
      inChord = new Set();
      again = false;
    }
    inChord.add(key);
  }
  let t = 0;
  for (const chord of out) {
    const from = clock.msAt(chord.first);
    const to = clock.msAt(chord.last);
    while (t < triggers.length && triggers[t]! < to - withinMs - 1e-6) t++;
    chord.struck = t < triggers.length && triggers[t]! <= from + withinMs + 1e-6;
  }
  return out;
}
