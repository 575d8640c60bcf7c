import type { ReadRow } from './row';

/** A row with all that stands above it: a seat's name holds for the notes inside it. */
export interface Path {
  readonly row: ReadRow;
  readonly above: Path | null;
  /** Which it is among the rows of its kind that stand together, from 0. */
  readonly index: number;
}

export function* pathsIn(row: ReadRow, above: Path | null = null, index = 0): Iterable<Path> {
  const own = { row, above, index };
  yield own;
  const counts = new Map<ReadRow['of'], number>();
  for (const inner of row.rows) {
    const n = counts.get(inner.of) ?? 0;
    counts.set(inner.of, n + 1);
    yield* pathsIn(inner, own, n);
  }
}

/** What stands on a grid: a note from its cell on, to the last cell in which it sounds. */
export interface GridNote {
  readonly path: Path;
  readonly startQuarters: number;
  /** Null where the file does not tell how long a note is held. */
  endQuarters: number | null;
  readonly key: number | null;
  /** As it stands in the cell. */
  readonly velocity: number | null;
  readonly from: number;
  to: number;
}

export interface GridWorld {
  /** A bar from 0: where it begins and how long it is, in quarters. */
  readonly barAt: (bar: number) => { start: number; length: number };
  /** Where a row says itself that it stands, in quarters. */
  readonly startOf: (path: Path) => number | null;
  /** The keys of the lanes of the seat above. */
  readonly laneKeys: (path: Path) => readonly number[] | null;
  readonly seatOf: (path: Path) => string;
  readonly velocityOf: (path: Path) => number | null;
}

export const nearest = (path: Path, of: string): Path | null => {
  for (let p: Path | null = path; p; p = p.above) if (p.row.of?.of === of) return p;
  return null;
};

/** The key of the lane that a row is or stands in; null where there is none, or nothing says it. */
export function laneKey(path: Path, world: Pick<GridWorld, 'laneKeys'>): number | null {
  const lane = nearest(path, 'lanes');
  if (!lane) return null;
  const keys = lane.row.of!.keys ?? world.laneKeys(lane);
  return keys?.[lane.index] ?? null;
}

/** The notes of all cells of a file, in the order of its cells. */
export function gridNotes(paths: readonly Path[], world: GridWorld): GridNote[] {
  const out: GridNote[] = [];
  const open = new Map<string, GridNote>();
  for (const path of paths) {
    const cell = nearest(path, 'cells');
    if (!cell || (path !== cell && path.row.of?.of !== 'lanes')) continue;
    const { start, length } = spanOf(cell, world);
    const end = start + length;
    const key = laneKey(path, world);
    const told = path.row.values.filter((v) => v.value.is === 'struck');
    const force = path.row.values.some((v) => v.value.is === 'velocity')
      ? world.velocityOf(path)
      : null;
    const begin = (own: number | null, isHeld: boolean, from: number, to: number) => {
      const note: GridNote = {
        path,
        startQuarters: start,
        endQuarters: isHeld ? end : null,
        key: own,
        velocity: force,
        from,
        to,
      };
      out.push(note);
      return note;
    };
    for (const { value, said, from, to } of told) {
      if (value.is !== 'struck') continue;
      const own = value.key ?? key;
      const slot = `${world.seatOf(path)} ${own}`;
      const word = String(said);
      const tellsHeld = value.held !== undefined || value.last !== undefined;
      const before = open.get(slot);
      if (word === value.yes) open.set(slot, begin(own, tellsHeld, from, to));
      else if (tellsHeld && word !== value.no && before) {
        before.endQuarters = end;
        before.to = to;
        if (word === value.last && value.last !== value.held) open.delete(slot);
      } else open.delete(slot);
    }
    // Without a word for it, what is struck harder than nothing begins a note.
    if (told.length === 0 && force !== null && force > 0) {
      const [one] = path.row.values;
      begin(key, false, one?.from ?? 0, one?.to ?? 0);
    }
  }
  return out;
}

function spanOf(cell: Path, { barAt, startOf }: GridWorld): { start: number; length: number } {
  const { perBar, perQuarter = 4 } = cell.row.of!;
  const barRow = nearest(cell, 'bars');
  const said = startOf(cell);
  if (!barRow && perBar !== undefined) {
    const bar = barAt(Math.floor(cell.index / perBar));
    const length = bar.length / perBar;
    return { start: said ?? bar.start + (cell.index % perBar) * length, length };
  }
  const bar = barRow ? barAt(barNumber(barRow)) : { start: 0, length: 0 };
  const length = perBar === undefined ? 1 / perQuarter : bar.length / perBar;
  return { start: said ?? bar.start + cell.index * length, length };
}

/**
 * Bars as long as the cells that are drawn in them, where a file tells no meter; null where not all
 * cells of a bar are drawn, or they are so many to a bar whatever its length.
 */
export function barsByCells(root: ReadRow): GridWorld['barAt'] | null {
  const bars = root.rows.filter((r) => r.of?.of === 'bars');
  const [first] = bars.flatMap((b) => b.rows.filter((r) => r.of?.of === 'cells'));
  const { perQuarter, empty } = first?.of ?? {};
  if (!first || !empty || perQuarter === undefined || !bars[0]?.of?.empty) {
    for (const row of root.rows) {
      const inner = row === bars[0] ? null : barsByCells(row);
      if (inner) return inner;
    }
    return null;
  }
  const starts = [0];
  for (const bar of bars) {
    const cells = bar.rows.filter((r) => r.of?.of === 'cells').length;
    starts.push(starts.at(-1)! + cells / perQuarter);
  }
  return (bar) => {
    const start = starts[bar] ?? starts.at(-1)!;
    return { start, length: (starts[bar + 1] ?? start) - start };
  };
}

/** The bar that a row of a bar is, from 0: the one that it names, else counted. */
function barNumber({ row, index }: Path): number {
  const named = row.values.find((v) => v.value.is === 'time' && v.value.unit === 'bar');
  if (named?.value.is !== 'time') return index;
  return Number(named.said) - (named.value.first ?? 1);
}
