/** What is left of a frame for painting rows; the rest waits for the next one. */
const BUDGET_MS = 9;

/**
 * Paints in slices, so that a sheet of many rows never holds up the hand. Each job is painted once
 * a frame at most; the first asked is the first painted.
 */
export class PaintQueue {
  private readonly jobs = new Map<object, () => void>();
  private waiting = false;

  constructor(
    private readonly nextFrame: (run: () => void) => void = (run) => requestAnimationFrame(run),
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** `owner` stands for the row: a newer job of the same owner replaces the one that waits. */
  add(owner: object, paint: () => void) {
    this.jobs.set(owner, paint);
    if (this.waiting) return;
    this.waiting = true;
    this.nextFrame(() => this.run());
  }

  drop(owner: object) {
    this.jobs.delete(owner);
  }

  private run() {
    const from = this.now();
    for (const [owner, paint] of this.jobs) {
      this.jobs.delete(owner);
      paint();
      if (this.now() - from >= BUDGET_MS) break;
    }
    this.waiting = this.jobs.size > 0;
    if (this.waiting) this.nextFrame(() => this.run());
  }
}
