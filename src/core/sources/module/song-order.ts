import { END, SKIP, type Module, type Pattern } from './module';

const EMPTY: Pattern = { rows: 64, cells: new Uint8Array(0) };

/** Where a channel’s loop of rows stands. */
interface RowLoop {
  readonly index: number;
  loopRow: number;
  readonly loopCount: number;
}

/**
 * Which row is played next. Effects say jumps, breaks and loops; they are obeyed at the end of the row.
 * A song ends behind its last order, or where it comes to a row in a state (with its loop counts) in which
 * it was there before.
 */
export class SongOrder {
  order = 0;
  row = 0;
  pattern: Pattern = EMPTY;
  jumpTo: number | null = null;
  breakTo: number | null = null;
  loopTo: number | null = null;
  /** Where it goes round to: an order, or null where it stops. */
  goesRoundTo: number | null = null;

  #nextOrder: number;
  #nextRow = 0;
  /** XM: the row at which the next pattern begins, behind a loop. */
  #behindLoop = 0;
  readonly #seen = new Set<string>();

  constructor(
    private readonly module: Module,
    private readonly loops: readonly RowLoop[],
    firstOrder = 0,
  ) {
    this.#nextOrder = firstOrder;
  }

  /** Goes to the next row; false where the song has ended. */
  enter(): boolean {
    const { orders, patterns, format, restart } = this.module;
    const marks = format === 's3m' || format === 'it';
    let order = this.#nextOrder;
    while (marks && orders[order] === SKIP) order++;
    if (order >= orders.length || (marks && orders[order] === END)) {
      this.goesRoundTo = restart;
      return false;
    }
    this.order = order;
    this.pattern = patterns[orders[order]!] ?? EMPTY;
    this.row = this.#nextRow < this.pattern.rows ? this.#nextRow : 0;
    const loops = this.loops.flatMap((c) =>
      c.loopCount > 0 ? [`${c.index}:${c.loopRow}:${c.loopCount}`] : [],
    );
    const state = `${order} ${this.row} ${loops.join(' ')}`;
    if (this.#seen.has(state)) {
      this.goesRoundTo = order;
      return false;
    }
    this.#seen.add(state);
    return true;
  }

  /** The row has been played. */
  leave(): void {
    this.#nextOrder = this.order;
    this.#nextRow = this.row + 1;
    if (this.loopTo !== null) {
      this.#nextRow = this.loopTo;
      if (this.module.format === 'xm') this.#behindLoop = this.loopTo;
    } else if (this.jumpTo !== null || this.breakTo !== null)
      this.#go(this.jumpTo ?? this.order + 1, this.breakTo ?? 0);
    else if (this.#nextRow >= this.pattern.rows) this.#go(this.order + 1, this.#behindLoop);
    this.jumpTo = null;
    this.breakTo = null;
    this.loopTo = null;
  }

  #go(order: number, row: number): void {
    this.#nextOrder = order;
    this.#nextRow = row;
    this.#behindLoop = 0;
    // The machines of MOD and XM remember where a loop began, in whichever pattern that was.
    const { format } = this.module;
    if (format === 's3m' || format === 'it') for (const loop of this.loops) loop.loopRow = 0;
  }
}
