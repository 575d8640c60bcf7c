import type { Value, When } from '../../formats/own/schema';
import type { Row } from '../own/rows';
import type { Attempt, Candidate, Column, Explained } from './candidates';

/** Smaller numbers are met by chance. */
const LEAST_LENGTH = 10;
/** More words than that for what a note is are no classes of it. */
const MOST_CLASSES = 5;
/** What stands most where there is nothing to say. */
const NOTHING = ['', '0', '-1', '-', 'null'];

export interface Split {
  readonly when: When;
  readonly says: string;
}

/**
 * One of several values, by what a note is: `hold` for long ones and `tap` for others, a length or
 * nothing. What stands always the same is parted from the rest by length, velocity, flag or by whether
 * it begins; the rest is explained for itself.
 */
export function cases(
  column: Column,
  candidate: Candidate,
  attempt: Attempt,
  explain: (column: Column, candidate: Candidate) => Explained[],
): void {
  const { list, at, rows } = candidate;
  if (!['notes', 'events', 'strikes'].includes(rows.of) || list.length < 4) return;
  const words = new Set(column.cells);
  const nothing = NOTHING.filter((w) => words.has(w));
  const same = words.size <= MOST_CLASSES ? [...new Set([...nothing, ...words])] : nothing;
  for (const word of same) {
    const is = column.cells.map((c) => c === word);
    for (const split of splitsOf(is, candidate)) {
      const rest = list.flatMap((_, i) => (is[i] ? [] : [i]));
      const own: Candidate = {
        rows,
        list: rest.map((i) => list[i]!),
        at: rest.map((i) => at[i]!),
      };
      const cells = rest.map((i) => column.cells[i]!);
      const found = explain({ ...column, cells }, own);
      // A length that is always the same is one all the same.
      const isLength = Number(cells[0]) >= LEAST_LENGTH && NOTHING.includes(word);
      const best = (isLength && found.find((e) => e.value.is === 'time')) || found[0];
      if (!best) continue;
      const plain = column.plain && word !== '' && Number.isFinite(Number(word));
      const constant: Value = { is: 'constant', value: plain ? Number(word) : word };
      attempt(
        { is: 'case', cases: [{ when: split.when, value: constant }], otherwise: best.value },
        `“${word}” ${split.says}, else ${best.says}`,
      );
    }
  }
}

/** Ways to tell the rows that are meant from all others, for every one of them. */
export function splitsOf(is: readonly boolean[], { list, at }: Candidate): Split[] {
  const { world } = at[0]!.beside;
  const out: Split[] = [];
  const add = (when: When, says: string, isIn: (row: Row) => boolean) => {
    if (list.every((row, i) => isIn(row) === is[i])) out.push({ when, says });
  };
  add({ on: false }, 'where it ends', (r) => r.on === false);
  add({ on: true }, 'where it begins', (r) => r.on === true);
  const { notes, maps, ppq, flags } = world;
  const byNote = <K extends keyof When>(
    of: (note: number) => number,
    [atLeast, below]: readonly [K, K],
    says: (n: number) => string,
    whole = false,
  ) => {
    const edge = edgeBetween(is, list, (r) => of(r.note!), whole);
    if (edge === null) return;
    const { at, from, fits } = edge;
    out.push({
      when: { [from ? atLeast : below]: at },
      says: `${from ? 'from' : 'under'} ${says(at)}${from ? ' on' : ''} (${fits})`,
    });
  };
  if (list.some((r) => r.note === undefined)) return out;
  byNote(
    (n) => maps.clock.msAt(notes.end[n]!) - maps.clock.msAt(notes.start[n]!),
    ['longerMs', 'shorterMs'],
    (n) => `${n} ms`,
  );
  byNote(
    (n) => (notes.end[n]! - notes.start[n]!) / ppq,
    ['longerQuarters', 'shorterQuarters'],
    (n) => `${n} quarters`,
  );
  byNote(
    (n) => notes.velocity[n]!,
    ['harder', 'softer'],
    (n) => `velocity ${n}`,
    true,
  );
  for (const flag of new Set([...flags.values()].flat()))
    add({ flag }, `with the flag ${flag}`, (r) =>
      (flags.get(notes.id[r.note!]!) ?? []).includes(flag),
    );
  return out;
}

/** Where an edge lies that has all that are meant on one side; the roundest number between them. */
function edgeBetween(
  is: readonly boolean[],
  list: readonly Row[],
  of: (row: Row) => number,
  whole: boolean,
): { at: number; from: boolean; fits: string } | null {
  let [least, most, otherLeast, otherMost] = [Infinity, -Infinity, Infinity, -Infinity];
  list.forEach((row, i) => {
    const n = of(row);
    if (is[i]) [least, most] = [Math.min(least, n), Math.max(most, n)];
    else [otherLeast, otherMost] = [Math.min(otherLeast, n), Math.max(otherMost, n)];
  });
  if (otherMost >= least && most >= otherLeast) return null;
  const from = otherMost < least;
  const [above, upTo] = from ? [otherMost, least] : [most, otherLeast];
  const fits = `any above ${digits(above)} up to ${digits(upTo)} fits`;
  return { at: whole ? roundestWhole(above, upTo) : roundest(above, upTo), from, fits };
}

const digits = (n: number) => String(Number(n.toFixed(3)));

/** Steps that people choose, the roundest first. */
const STEPS = [100, 64, 50, 32, 25, 20, 16, 10, 8, 5, 4, 2, 1];
/** The roundest whole number above one and up to another. */
function roundestWhole(above: number, upTo: number): number {
  for (const step of STEPS) {
    const n = Math.floor(upTo / step) * step;
    if (n > above && n > 0) return n;
  }
  return Math.ceil(upTo);
}

/**
 * The roundest number between two, not near to either: another song comes nearer to where the edge is.
 */
function roundest(low: number, high: number): number {
  const fifth = (high - low) / 5;
  const [above, upTo] = [low + fifth, high - fifth];
  for (let power = 6; power >= -6; power--)
    for (const part of [1, 0.5, 0.25, 0.2]) {
      const step = part * 10 ** power;
      const n = Math.floor(upTo / step + 1e-9) * step;
      if (n > above + 1e-9 && n > 0) return Number(n.toPrecision(12));
    }
  return upTo;
}
