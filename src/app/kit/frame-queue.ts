/** What is left of a frame for work on the screen; the rest waits for the next one. */
const BUDGET_MS = 9;

interface Job {
  readonly run: () => void;
  readonly alone: boolean;
}

/**
 * Work on the screen in slices, so that none of it holds up the hand: rows are painted, pictures drawn
 * and parts of the desk set up a few a frame. Each owner’s work is done once a frame at most; the first
 * asked is the first done.
 */
export class FrameQueue {
  private readonly jobs = new Map<object, Job>();
  private waiting = false;

  constructor(
    private readonly nextFrame: (run: () => void) => void = (run) => requestAnimationFrame(run),
    private readonly now: () => number = () => performance.now(),
  ) {}

  /**
   * @param owner newer work of the same owner takes the place of what waits
   * @param options `alone` for what is rendered after it has run: it has a frame of its own
   */
  add(owner: object, run: () => void, { alone = false } = {}) {
    this.jobs.set(owner, { run, alone });
    if (this.waiting) return;
    this.waiting = true;
    this.nextFrame(() => this.run());
  }

  drop(owner: object) {
    this.jobs.delete(owner);
  }

  private run() {
    const from = this.now();
    let none = true;
    for (const [owner, { run, alone }] of this.jobs) {
      if (alone && !none) break;
      none = false;
      this.jobs.delete(owner);
      run();
      if (alone || this.now() - from >= BUDGET_MS) break;
    }
    this.waiting = this.jobs.size > 0;
    if (this.waiting) this.nextFrame(() => this.run());
  }
}

/** That of the page: whatever draws or is set up takes turns. */
export const frames = new FrameQueue();
