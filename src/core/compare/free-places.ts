/** Places of a list that are taken one by one; the nearest free one is found in almost no time. */
export class FreePlaces {
  /** The next free place from each on, and the last one up to it; paths are shortened as they are gone. */
  private readonly ahead: Int32Array;
  private readonly back: Int32Array;

  constructor(private readonly count: number) {
    this.ahead = Int32Array.from({ length: count + 1 }, (_, i) => i);
    this.back = Int32Array.from({ length: count + 1 }, (_, i) => i);
  }

  /** The first free place from `i` on; `count` where there is none. */
  next(i: number): number {
    const { ahead } = this;
    let at = Math.min(i, this.count);
    while (ahead[at] !== at) at = ahead[at] = ahead[ahead[at]!]!;
    return at;
  }

  /** The last free place up to `i`; −1 where there is none. */
  last(i: number): number {
    const { back } = this;
    // Shifted by one, so that 0 stands for none.
    let at = Math.max(0, i + 1);
    while (back[at] !== at) at = back[at] = back[back[at]!]!;
    return at - 1;
  }

  take(i: number) {
    this.ahead[i] = i + 1;
    this.back[i + 1] = i;
  }
}
