import { bisector } from 'd3-array';
import type { Dropped, Happening, Played } from '../../core/standin/played';

const atUs = bisector((e: { readonly atUs: number }) => e.atUs);

/** A note that has no length is seen for so long. */
export const FLASH_US = 180_000;
/** What was dropped is seen for so long. */
export const DROP_US = 1_400_000;

/** What a device does, asked by time. Happenings stand in order of time. */
export class Timeline {
  readonly events: readonly Happening[];
  readonly dropped: readonly Dropped[];
  readonly lengthUs: number;
  private readonly longest: number;

  constructor(played: Played, kinds?: readonly Happening['kind'][]) {
    this.events = kinds ? played.events.filter((e) => kinds.includes(e.kind)) : played.events;
    this.dropped = played.dropped;
    this.lengthUs = played.lengthUs;
    let longest = FLASH_US;
    for (const { lengthUs = 0 } of this.events) if (lengthUs > longest) longest = lengthUs;
    this.longest = longest;
  }

  /** Index of the first that begins behind a time. */
  behind = (us: number): number => atUs.right(this.events, us);

  /** What has begun and not ended; what has no length for a flash. */
  sounding(us: number): Happening[] {
    const out: Happening[] = [];
    for (let i = this.behind(us) - 1; i >= 0; i--) {
      const e = this.events[i]!;
      if (us - e.atUs > this.longest) break;
      if (us - e.atUs < Math.max(FLASH_US, e.lengthUs ?? 0)) out.push(e);
    }
    return out.reverse();
  }

  /** What begins in `[from, to)`. */
  within(from: number, to: number): readonly Happening[] {
    return this.events.slice(atUs.left(this.events, from), atUs.left(this.events, to));
  }

  /** What sounds at any time in `[from, to)`: also what began before. */
  across(from: number, to: number): Happening[] {
    const out: Happening[] = [];
    for (let i = atUs.left(this.events, to) - 1; i >= 0; i--) {
      const e = this.events[i]!;
      if (from - e.atUs > this.longest) break;
      if (e.atUs + Math.max(1, e.lengthUs ?? 0) > from) out.push(e);
    }
    return out.reverse();
  }

  last = (us: number): Happening | null => this.events[this.behind(us) - 1] ?? null;
  next = (us: number): Happening | null => this.events[this.behind(us)] ?? null;

  /** What was to happen a moment ago and did not. */
  justDropped(us: number): readonly Dropped[] {
    return this.dropped.slice(atUs.left(this.dropped, us - DROP_US), atUs.right(this.dropped, us));
  }
}
