import type { NoteColumns } from '../score/score';

/** A hand on its way: where it lies, and what it holds down. Keys in semitones, ends in ticks. */
interface Hand {
  readonly centre: number;
  readonly low: number;
  readonly high: number;
  readonly end: number;
}

interface State {
  readonly cost: number;
  readonly left: Hand;
  readonly right: Hand;
}

const REACH = 12;
const OVER_REACH = 12;
const CROSSED = 8;
/** Two hands are there: each further note of a chord in the same one costs a little. */
const FURTHER_NOTE = 2;
const HOME = 0.2;
/** What one hand spans while the other rests: a wide grip is seldom meant so. */
const idling = (width: number): number => Math.max(0, width - 7) * 3 + width * 0.4;
const START: State = {
  cost: 0,
  left: { centre: 48, low: 48, high: 48, end: -1 },
  right: { centre: 69, low: 69, high: 69, end: -1 },
};

/** Semitones that a hand moves; within what five fingers cover it hardly does. */
const moving = (by: number): number => Math.max(0, Math.abs(by) - 3) + Math.abs(by) * 0.4;

/** A hand that takes some keys of a chord, from the lowest to the highest; null where it takes none. */
function taking(
  hand: Hand,
  { keys, counts }: Column,
  from: number,
  to: number,
  end: number,
  at: number,
) {
  if (from === to) return { cost: 0, hand };
  const [low, high] = [keys[from]!, keys[to - 1]!];
  const centre = (low + high) / 2;
  // What is still held belongs to the span.
  const held = hand.end > at;
  const [wideLow, wideHigh] = held
    ? [Math.min(low, hand.low), Math.max(high, hand.high)]
    : [low, high];
  const over = Math.max(0, wideHigh - wideLow - REACH);
  const notes = counts[to]! - counts[from]!;
  return {
    cost: moving(centre - hand.centre) + over * OVER_REACH + (notes - 1) * FURTHER_NOTE,
    hand: { centre, low: wideLow, high: wideHigh, end: held ? Math.max(end, hand.end) : end },
  };
}

/** What is struck at one tick, by its keys: however many notes there are, at most 128 of them. */
interface Column {
  /** Rising, each once. */
  readonly keys: readonly number[];
  /** Notes below each key, and all of them. */
  readonly counts: readonly number[];
  /** The latest end below each cut, and from it on. */
  readonly endsBelow: readonly number[];
  readonly endsFrom: readonly number[];
}

function columnOf(notes: NoteColumns, from: number, to: number): Column {
  const latest = new Map<number, number>();
  const count = new Map<number, number>();
  for (let i = from; i < to; i++) {
    const key = notes.noteNumber[i]!;
    latest.set(key, Math.max(latest.get(key) ?? -1, notes.end[i]!));
    count.set(key, (count.get(key) ?? 0) + 1);
  }
  const keys = [...latest.keys()].sort((a, b) => a - b);
  const counts = [0];
  const endsBelow = [-1];
  const endsFrom = [-1];
  for (const key of keys) {
    counts.push(counts.at(-1)! + count.get(key)!);
    endsBelow.push(Math.max(endsBelow.at(-1)!, latest.get(key)!));
  }
  for (const key of [...keys].reverse())
    endsFrom.push(Math.max(endsFrom.at(-1)!, latest.get(key)!));
  return { keys, counts, endsBelow, endsFrom: endsFrom.reverse() };
}

/**
 * Who plays each note: 0 the left hand, 1 the right. Every chord is cut somewhere; by dynamic
 * programming the cuts are found under which the hands reach, move and cross the least over the whole
 * part. Notes of one key stay together. Linear in the notes.
 */
export function handsOf(notes: NoteColumns): Uint16Array {
  const group = new Uint16Array(notes.count);
  const columns: number[] = [];
  for (let i = 0; i < notes.count; i++)
    if (i === 0 || notes.start[i] !== notes.start[i - 1]) columns.push(i);
  const end = (c: number) => columns[c + 1] ?? notes.count;
  /** For every cut of every chord, the cut of the one before that leads there. */
  const offsets = new Uint32Array(columns.length);
  const back = new Uint8Array(notes.count + columns.length);
  let states: State[] = [START];
  let used = 0;
  for (let c = 0; c < columns.length; c++) {
    const [from, to] = [columns[c]!, end(c)];
    const column = columnOf(notes, from, to);
    const { keys } = column;
    const at = notes.start[from]!;
    const width = keys.at(-1)! - keys[0]!;
    offsets[c] = used;
    const next: State[] = [];
    for (let cut = 0; cut <= keys.length; cut++) {
      const endLeft = column.endsBelow[cut]!;
      const endRight = column.endsFrom[cut]!;
      let best: State | null = null;
      let from = 0;
      for (let s = 0; s < states.length; s++) {
        const was = states[s]!;
        const left = taking(was.left, column, 0, cut, endLeft, at);
        const right = taking(was.right, column, cut, keys.length, endRight, at);
        const high = cut > 0 || was.left.end > at ? left.hand.high : -1;
        const low = cut < keys.length || was.right.end > at ? right.hand.low : 128;
        const home =
          (cut > 0 ? Math.abs(left.hand.centre - START.left.centre) : 0) +
          (cut < keys.length ? Math.abs(right.hand.centre - START.right.centre) : 0);
        const idle = cut === 0 || cut === keys.length ? idling(width) : 0;
        const crossed = high >= low ? CROSSED : 0;
        const cost = was.cost + left.cost + right.cost + crossed + idle + home * HOME;
        if (best === null || cost < best.cost) {
          best = { cost, left: left.hand, right: right.hand };
          from = s;
        }
      }
      next.push(best!);
      back[used + cut] = from;
    }
    used += keys.length + 1;
    states = next;
  }
  let cut = states.reduce((b, s, i) => (s.cost < states[b]!.cost ? i : b), 0);
  for (let c = columns.length - 1; c >= 0; c--) {
    const [from, to] = [columns[c]!, end(c)];
    const { keys } = columnOf(notes, from, to);
    const split = keys[cut] ?? 128;
    for (let i = from; i < to; i++) group[i] = notes.noteNumber[i]! < split ? 0 : 1;
    cut = back[offsets[c]! + cut]!;
  }
  return group;
}
