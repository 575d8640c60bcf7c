import type { Grid } from './world';
import type { Rows } from '../../formats/own/schema';
import type { World } from './world';

/** More cells are not written. */
const MOST_CELLS = 4_000_000;

/** Spans on the grid in the order of their beginning, with the latest end up to each. */
interface Spans {
  readonly from: number[];
  readonly latest: number[];
}

export function gridOf(rows: Rows, world: World, own: readonly number[], inBars: boolean): Grid {
  const byBar = inBars || rows.perBar !== undefined;
  const key = `${rows.perBar} ${rows.perQuarter} ${byBar}`;
  const there = world.grids.get(own) ?? new Map<string, Grid>();
  world.grids.set(own, there);
  const known = there.get(key);
  if (known) return known;
  const made = layGrid(rows, world, own, byBar);
  there.set(key, made);
  return made;
}

function layGrid(
  { perBar, perQuarter = 4 }: Rows,
  world: World,
  own: readonly number[],
  byBar: boolean,
): Grid {
  const { notes, ppq, endTick } = world;
  // Without bars there is one stretch from the start to the end.
  const bars = byBar ? world.maps.bars : new WholePiece(Math.max(1, endTick));
  const lastBar = Math.max(1, bars.barCount(endTick));
  const first: number[] = [0];
  const size: number[] = [];
  for (let bar = 0; bar < lastBar; bar++) {
    const length = bars.barStart(bar + 1) - bars.barStart(bar);
    const count = perBar ?? Math.max(1, Math.ceil((length * perQuarter) / ppq - 1e-9));
    size.push(perBar === undefined ? ppq / perQuarter : length / perBar);
    first.push(Math.min(MOST_CELLS, first[bar]! + count));
  }
  const count = first[lastBar]!;
  const cellAt = (tick: number): number => {
    const bar = Math.min(lastBar - 1, bars.barAt(tick));
    const within = Math.floor((tick - bars.barStart(bar)) / size[bar]! + 0.5 + 1e-9);
    return Math.min(first[bar]! + within, first[bar + 1]!);
  };
  const barOf = (cell: number): number => {
    let [low, high] = [0, lastBar];
    while (high - low > 1) {
      const mid = (low + high) >> 1;
      if (first[mid]! <= cell) low = mid;
      else high = mid;
    }
    return low;
  };

  const struck = new Map<number, number[]>();
  const placed = own
    .map((note) => {
      // What rounds past the end is struck in the last cell.
      const from = Math.min(count - 1, cellAt(notes.start[note]!));
      return { note, from, to: Math.max(from + 1, cellAt(notes.end[note]!)) };
    })
    .sort((a, b) => a.from - b.from);
  const all: Spans = { from: [], latest: [] };
  const byKey = new Map<number, Spans>();
  const put = (spans: Spans, from: number, to: number) => {
    spans.from.push(from);
    spans.latest.push(Math.max(to, spans.latest.at(-1) ?? 0));
  };
  for (const { note, from, to } of placed) {
    const here = struck.get(from);
    if (here) here.push(note);
    else struck.set(from, [note]);
    const key = notes.key[note]!;
    const spans = byKey.get(key) ?? { from: [], latest: [] };
    byKey.set(key, spans);
    put(spans, from, to);
    put(all, from, to);
  }
  return {
    count,
    firstOf: (bar) => first[Math.min(bar, lastBar)]!,
    tickAt: (cell) => {
      if (cell >= count) return bars.barStart(lastBar);
      const bar = barOf(cell);
      return Math.round(bars.barStart(bar) + (cell - first[bar]!) * size[bar]!);
    },
    struck,
    stateAt: (cell, key) => {
      const spans = key === undefined ? all : byKey.get(key);
      return spans ? stateOf(spans, cell) : 'no';
    },
  };
}

class WholePiece {
  constructor(private readonly end: number) {}
  barCount() {
    return 1;
  }
  barAt() {
    return 0;
  }
  barStart(bar: number) {
    return bar === 0 ? 0 : this.end;
  }
}

function stateOf({ from, latest }: Spans, cell: number): 'yes' | 'no' | 'held' | 'last' {
  let [low, high] = [0, from.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (from[mid]! <= cell) low = mid + 1;
    else high = mid;
  }
  if (low === 0) return 'no';
  if (from[low - 1] === cell) return 'yes';
  const until = latest[low - 1]!;
  return until <= cell ? 'no' : until === cell + 1 ? 'last' : 'held';
}
