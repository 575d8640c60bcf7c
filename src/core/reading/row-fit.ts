import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn } from '../score/score';

/** How one row rate takes a piece, at the speed that suits it best. */
export interface RowFit {
  readonly rate: number;
  /** Percent of the speed as it is, to a thousandth. */
  readonly percent: number;
  /** How far the furthest note stands from its row, and nineteen in twenty, milliseconds. */
  readonly worstMs: number;
  readonly mostMs: number;
  /** Notes that began apart and come on one row. */
  readonly clashes: number;
}

/** How far the speed may be changed, either way, before it is another piece. */
export const SPEED_PERCENT = 3;
/** Starts beyond which the search looks at some of them alone; what is told counts all. */
const SAMPLE = 1200;
const MOST_TRIALS = 4000;
/** Starts that are nearer than this are one chord. */
const ONE_CHORD_MS = 12;

const kept = new WeakMap<Piece, Map<string, RowFit>>();

/** Starts of what plays, in milliseconds, each once. */
function startsOf(piece: Piece): Float64Array {
  const { clock } = mapsOf(piece.score);
  const ticks = new Set<number>();
  for (const { notes } of piece.score.parts.filter(isIn))
    for (let i = 0; i < notes.count; i++) ticks.add(notes.start[i]!);
  return Float64Array.from(ticks, (t) => clock.msAt(t)).sort();
}

/**
 * For a rate the speed, within a few percent, at which the starts stand nearest to its rows: a scan
 * fine enough that no row is passed over at the end of the piece, then a narrowing. Of speeds that
 * fit alike the one that changes least. Linear in notes for each trial of a bounded number.
 */
export function rowFit(piece: Piece, rate: number, free: boolean): RowFit {
  const own = kept.get(piece) ?? new Map<string, RowFit>();
  kept.set(piece, own);
  const key = `${rate} ${free}`;
  const there = own.get(key);
  if (there) return there;
  const starts = startsOf(piece);
  const speed = free ? bestSpeed(starts, rate) : 1;
  const percent = Math.round(speed * 100_000) / 1000;
  const made = { rate, percent, ...told(starts, rate, percent / 100) };
  own.set(key, made);
  return made;
}

/** Middle distance from the rows, in rows, of a speed. */
function apart(starts: Float64Array, rate: number, speed: number): number {
  const factor = rate / (1000 * speed);
  let sum = 0;
  for (const ms of starts) {
    const row = ms * factor;
    const off = row - Math.round(row);
    sum += off * off;
  }
  return starts.length === 0 ? 0 : sum / starts.length;
}

function bestSpeed(all: Float64Array, rate: number): number {
  if (all.length < 2) return 1;
  const every = Math.max(1, Math.ceil(all.length / SAMPLE));
  const starts = all.filter((_, i) => i % every === 0);
  const rowMs = 1000 / rate;
  const span = all.at(-1)!;
  const step = Math.max(rowMs / Math.max(rowMs, span) / 8, (SPEED_PERCENT * 2) / 100 / MOST_TRIALS);
  const widest = SPEED_PERCENT / 100;
  // A change of speed has to earn its keep: as much as it is large.
  const cost = (speed: number) =>
    apart(starts, rate, speed) + (Math.abs(speed - 1) / widest) * 0.004;
  let best = 1;
  let least = apart(starts, rate, 1);
  for (let off = step; off <= widest; off += step)
    for (const speed of [1 - off, 1 + off]) {
      const c = cost(speed);
      if (c < least) [least, best] = [c, speed];
    }
  if (best === 1) return 1;
  for (let width = step / 2; width > 1e-7; width /= 2)
    for (const speed of [best - width, best + width]) {
      const c = apart(starts, rate, speed);
      if (c < apart(starts, rate, best)) best = speed;
    }
  return best;
}

function told(starts: Float64Array, rate: number, speed: number) {
  const rowMs = 1000 / rate;
  const offs = new Float64Array(starts.length);
  let clashes = 0;
  let lastRow = -1;
  let last = -Infinity;
  starts.forEach((at, i) => {
    const ms = at / speed;
    const row = Math.round(ms / rowMs);
    offs[i] = Math.abs(ms - row * rowMs);
    if (row === lastRow && ms - last > ONE_CHORD_MS) clashes++;
    if (row !== lastRow) last = ms;
    lastRow = row;
  });
  offs.sort();
  return {
    worstMs: offs.at(-1) ?? 0,
    mostMs: offs[Math.floor(offs.length * 0.95)] ?? 0,
    clashes,
  };
}
