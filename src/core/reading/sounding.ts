/**
 * What sounds while notes are gone through by start: how many at once and on which keys. Ends are
 * kept in a heap, so that however many notes hang, a pass over all is n log n.
 */
export class Sounding {
  private readonly heap: number[] = [];
  private readonly onKey = new Uint32Array(128);
  /** Notes that sound and were not named yet. */
  private fresh: number[] = [];
  count = 0;
  /** Keys of which at least one sounds. */
  keys = 0;

  constructor(private readonly notes: { end: ArrayLike<number>; noteNumber: ArrayLike<number> }) {}

  /** Lets go of what has ended by `tick`; notes are half-open. */
  until(tick: number) {
    const { end, noteNumber } = this.notes;
    while (this.heap.length > 0 && end[this.heap[0]!]! <= tick) {
      const key = noteNumber[this.pop()]!;
      this.count--;
      if (--this.onKey[key]! === 0) this.keys--;
    }
  }

  add(i: number) {
    const key = this.notes.noteNumber[i]!;
    this.count++;
    if (this.onKey[key]!++ === 0) this.keys++;
    this.fresh.push(i);
    this.push(i);
  }

  /** Semitones from the lowest to the highest key that sounds. */
  get span(): number {
    let low = 0;
    let high = 127;
    if (this.keys < 2) return 0;
    while (this.onKey[low] === 0) low++;
    while (this.onKey[high] === 0) high--;
    return high - low;
  }

  /** Names everything that sounds at `tick`, each note once over all calls. */
  nameAll(tick: number, name: (i: number) => void) {
    for (const i of this.fresh) if (this.notes.end[i]! > tick) name(i);
    this.fresh = [];
  }

  private push(i: number) {
    const { heap } = this;
    const { end } = this.notes;
    let at = heap.push(i) - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (end[heap[up]!]! <= end[i]!) break;
      heap[at] = heap[up]!;
      at = up;
    }
    heap[at] = i;
  }

  private pop(): number {
    const { heap } = this;
    const { end } = this.notes;
    const first = heap[0]!;
    const last = heap.pop()!;
    if (heap.length === 0) return first;
    let at = 0;
    for (;;) {
      let down = at * 2 + 1;
      if (down >= heap.length) break;
      if (down + 1 < heap.length && end[heap[down + 1]!]! < end[heap[down]!]!) down++;
      if (end[heap[down]!]! >= end[last]!) break;
      heap[at] = heap[down]!;
      at = down;
    }
    heap[at] = last;
    return first;
  }
}
