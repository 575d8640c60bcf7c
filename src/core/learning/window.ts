/** How many moments lie within one second up to the last one; they come in order. */
export class Window {
  private readonly moments: number[] = [];
  private from = 0;
  add(ms: number): number {
    this.moments.push(ms);
    while (ms - this.moments[this.from]! >= 1000 - 1e-6) this.from++;
    return this.moments.length - this.from;
  }
}
