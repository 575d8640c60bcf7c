import type { Onsets } from '../onsets';
import type { Put } from './put';
import { lineThrough } from './refine';
import { alikeAlong, alongLine, type Stretches } from './stretches';
import { type Alike, steadied } from './steady';
import type { Stretch, Warp } from './warp';

/** What ways are held against. */
interface Beside {
  readonly pairs: Alike;
  readonly warp: Warp;
  /** At which notes begin. */
  readonly moments: Float64Array;
  readonly onsets: Onsets;
  readonly putOne: (s: Stretch) => Put;
}

/** Shares of beginnings that are no farther apart say nothing. */
const ABOUT_AS_MANY = 0.02;

/**
 * Ways that bend or jump where a simpler one meets as many beginnings: one that turns little by little,
 * a line, or one line for all of them. Where more are met by one that turns as it likes, somebody played
 * so.
 */
export function unbent({ long, all: free }: Stretches, beside: Beside): Stretches {
  const all = free.map((one, k) => (one.bends ? simpler(long[k]!, one, beside) : one));
  return (all.length > 1 ? oneLine(all, beside) : null) ?? { long, all };
}

function simpler(stretch: Stretch, free: Put, beside: Beside): Put {
  const { pairs, warp, putOne } = beside;
  const { score } = stretch;
  const usual = lineThrough(free.x, free.y);
  const steady = putOne(steadied(stretch, pairs, warp.hopMs, usual.ratio));
  const turns = steady.met >= free.met - ABOUT_AS_MANY ? steady : free;
  const line = straight(free.x, usual, [score[0]!, score.at(-1)!], beside);
  return line && line.put.met >= turns.met ? line.put : turns;
}

const LINES_TRIED = 3;
/** Bars that are missing leave the strokes where they were: chance meets about as many there. */
const CLEARLY_MORE = 0.06;

/** A line through all of the score that meets more than ways that jump do; null where none does. */
function oneLine(ways: readonly Put[], beside: Beside): Stretches | null {
  const met = ways.reduce((n, one) => n + one.places.length, 0);
  const moments = ways.reduce((n, one) => n + one.moments, 0);
  let most = met / Math.max(1, moments) + CLEARLY_MORE;
  let found: Stretches | null = null;
  const longest = [...ways].sort((a, b) => b.moments - a.moments).slice(0, LINES_TRIED);
  for (const { x, y } of longest) {
    const span = [0, beside.pairs.n - 1] as const;
    const line = straight(beside.moments, lineThrough(x, y), span, beside);
    if (!line || line.put.met < most || line.put.places.length < met) continue;
    most = line.put.met;
    found = { long: [line.stretch], all: [line.put] };
  }
  return found;
}

/** The line near another on which most moments meet a beginning, over frames of the score. */
function straight(
  moments: Float64Array,
  near: Line,
  span: readonly [number, number],
  { pairs, warp, putOne, onsets }: Beside,
): { readonly stretch: Stretch; readonly put: Put } | null {
  let stretch: Stretch | null = null;
  let most = -Infinity;
  // Of strokes that are met about as often the one at which score and sound are most alike.
  for (const line of linesOfMost(moments, near, onsets)) {
    const one = alongLine(line, span, pairs, warp);
    const value = one ? alikeAlong(pairs, one) / one.score.length : -Infinity;
    if (value > most) [most, stretch] = [value, one];
  }
  if (!stretch) return null;
  const put = putOne(stretch);
  return put.bends ? null : { stretch, put };
}

interface Line {
  readonly offset: number;
  readonly ratio: number;
}

/** How far from the way’s own line another is looked for: milliseconds, and parts of its tempo. */
const REACH_MS = 900;
const TEMPO_REACH = 0.005;
/** Lines are told apart by as much, at the ends of the way too. */
const CELL_MS = 8;
const MOST_TEMPOS = 400;
const MOST_MOMENTS = 3000;

/**
 * Where music goes on in equal strokes a way may slip by some of them and back, and seems to bend. The
 * lines near it on which most moments meet a beginning, whatever the way did; none where none is near.
 */
export function linesOfMost(
  x: Float64Array,
  usual: Line,
  { ms }: Pick<Onsets, 'ms'>,
): readonly Line[] {
  const n = x.length;
  if (n < 2 || ms.length === 0) return [];
  const middle = (x[0]! + x[n - 1]!) / 2;
  const half = Math.max(1, (x[n - 1]! - x[0]!) / 2);
  // From one tempo to the next an end of the way moves by a cell.
  const step = Math.max(CELL_MS / half, TEMPO_REACH / (MOST_TEMPOS / 2));
  const either = Math.floor(TEMPO_REACH / step);
  const tempos = 2 * either + 1;
  const cells = Math.ceil((2 * REACH_MS) / CELL_MS) + 1;
  const votes = new Uint32Array(tempos * cells);
  // Whose vote a cell had last: a moment meets one beginning.
  const last = new Int32Array(tempos * cells).fill(-1);
  const reach = REACH_MS + either * step * half;
  // Of very many moments some are enough: what is asked is where most lie.
  const every = Math.ceil(n / MOST_MOMENTS);
  let from = 0;
  for (let i = 0; i < n; i += every) {
    const expected = usual.offset + usual.ratio * x[i]!;
    const turn = step * (x[i]! - middle);
    while (from < ms.length && ms[from]! < expected - reach) from++;
    for (let k = from; k < ms.length && ms[k]! <= expected + reach; k++) {
      const off = ms[k]! - expected;
      for (let t = 0; t < tempos; t++) {
        const by = off - (t - either) * turn;
        if (by < -REACH_MS || by > REACH_MS) continue;
        const at = t * cells + Math.round((by + REACH_MS) / CELL_MS);
        if (last[at] === i) continue;
        last[at] = i;
        votes[at]!++;
      }
    }
  }
  // At each place the tempo of most votes; of places near each other the one that has more.
  const best = Array.from({ length: cells }, () => ({ met: 0, by: 0 }));
  for (let t = 0; t < tempos; t++)
    for (let c = 1; c + 1 < cells; c++) {
      const at = t * cells + c;
      const met = votes[at - 1]! + votes[at]! + votes[at + 1]!;
      if (met > best[c]!.met) best[c] = { met, by: (t - either) * step };
    }
  const most = best.reduce((m, { met }) => Math.max(m, met), 0);
  return best
    .flatMap(({ met, by }, c) => {
      const from = Math.max(0, c - APART);
      const near = best.slice(from, c + APART + 1);
      const first = near.reduce((k, n, i) => (n.met > near[k]!.met ? i : k), 0) + from;
      if (met === 0 || met < AS_MANY * most || first !== c) return [];
      const off = c * CELL_MS - REACH_MS;
      return { met, line: { ratio: usual.ratio + by, offset: usual.offset + off - by * middle } };
    })
    .sort((a, b) => b.met - a.met)
    .slice(0, MOST_LINES)
    .map(({ line }) => line);
}

/** Places are others where so many cells lie between them. */
const APART = 6;
/** Lines that meet less than such a share of the most say nothing. */
const AS_MANY = 0.93;
const MOST_LINES = 8;
