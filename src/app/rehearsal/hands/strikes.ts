import { bisector } from 'd3-array';
import type { Happening } from '../../../core/standin/played';
import type { Doing, Hands, Pressed } from './hands';

/** A press belongs to the nearest stroke of its lane within this; beyond, it is beside. */
export const WITHIN_US = 100_000;
/** How far early a hold may be let go. */
export const LET_GO_US = 100_000;
export const BANDS_MS = [30, 60, 100] as const;

export interface Lane extends Doing {
  /** Lanes that it strikes: more than one where both sides share it. */
  readonly lanes: readonly { readonly seat: string; readonly key: number }[];
}

export interface Tally {
  readonly struck: number;
  readonly missed: number;
  /** Presses that belong to no stroke. */
  readonly beside: number;
  /** Milliseconds of each stroke that was struck, late positive, in the order of striking. */
  readonly errorsMs: readonly number[];
  /** Holds that were let go too soon, by milliseconds. */
  readonly letGoMs: readonly number[];
}

interface Stroke {
  readonly atUs: number;
  readonly endUs: number;
  /** Error in microseconds once struck. */
  error: number | null;
  missed: boolean;
  letGo: number | null;
}

const rightOf = bisector((s: Stroke) => s.atUs).right;

/** Playing along: each press is held against the stroke of its lane that is nearest in time. */
export class StrikeHands implements Hands {
  readonly clock = 'pulse';
  private readonly byLane = new Map<string, Stroke[]>();
  private readonly held = new Map<string, Stroke[]>();
  /** In the order in which they were struck. */
  private struck: Stroke[] = [];
  private besideUs: number[] = [];
  private beganUs: number | null = null;
  private nowUs = 0;

  constructor(
    readonly doings: readonly Lane[],
    strikes: readonly Happening[],
  ) {
    for (const { atUs, lengthUs = 0, seat, key } of strikes) {
      const lane = `${seat} ${key}`;
      const stroke = { atUs, endUs: atUs + lengthUs, error: null, missed: false, letGo: null };
      const there = this.byLane.get(lane);
      if (there) there.push(stroke);
      else this.byLane.set(lane, [stroke]);
    }
  }

  private lanes(doing: string): Stroke[][] {
    const lane = this.doings.find((d) => d.id === doing);
    return (lane?.lanes ?? []).map(({ seat, key }) => this.byLane.get(`${seat} ${key}`) ?? []);
  }

  press(doing: string, atUs: number): Pressed {
    this.beganUs ??= atUs;
    const hit: Stroke[] = [];
    for (const strokes of this.lanes(doing)) {
      const near = nearest(strokes, atUs);
      if (!near) continue;
      near.error = atUs - near.atUs;
      near.missed = false;
      this.struck.push(near);
      hit.push(near);
    }
    if (hit.length === 0) this.besideUs.push(atUs);
    this.held.set(
      doing,
      hit.filter((s) => s.endUs > s.atUs),
    );
    return { doing, atUs, errorUs: hit[0]?.error ?? null };
  }

  release(doing: string, atUs: number) {
    for (const s of this.held.get(doing) ?? [])
      if (atUs < s.endUs - LET_GO_US) s.letGo = s.endUs - atUs;
    this.held.delete(doing);
  }

  /** The music goes on, or jumps: what lies behind a jump back is to be struck anew. */
  pass(toUs: number) {
    if (this.beganUs === null || toUs < this.nowUs - 1000) this.again(toUs);
    // Only what the player had a chance to strike can be missed.
    for (const strokes of this.mine()) {
      for (let i = rightOf(strokes, toUs - WITHIN_US) - 1; i >= 0; i--) {
        const s = strokes[i]!;
        if (s.atUs < this.beganUs! - 1 || s.missed) break;
        if (s.error === null) s.missed = true;
      }
    }
    this.nowUs = toUs;
    return [];
  }

  private *mine(): Iterable<Stroke[]> {
    for (const d of this.doings) yield* this.lanes(d.id);
  }

  private again(fromUs: number) {
    this.beganUs = fromUs;
    for (const strokes of this.mine())
      for (const s of strokes)
        if (s.atUs >= fromUs - WITHIN_US) [s.error, s.missed, s.letGo] = [null, false, null];
    this.struck = this.struck.filter((s) => s.error !== null);
    this.besideUs = this.besideUs.filter((us) => us < fromUs);
    this.held.clear();
  }

  /** Everything is still to be struck. */
  restart() {
    this.again(-Infinity);
    this.besideUs = [];
    this.beganUs = null;
    this.nowUs = 0;
  }

  get tally(): Tally {
    let missed = 0;
    for (const strokes of this.mine()) for (const s of strokes) if (s.missed) missed++;
    return {
      struck: this.struck.length,
      missed,
      beside: this.besideUs.length,
      errorsMs: this.struck.map((s) => s.error! / 1000),
      letGoMs: this.struck.flatMap((s) => (s.letGo === null ? [] : [s.letGo / 1000])),
    };
  }

  says(): string {
    const { struck, missed, beside, errorsMs } = this.tally;
    if (struck + missed + beside === 0) return 'Nothing is struck yet.';
    const shares = BANDS_MS.map(
      (ms) => `${errorsMs.filter((e) => Math.abs(e) <= ms).length} within ${ms} ms`,
    );
    return `${struck} struck: ${shares.join(', ')}; ${missed} missed, ${beside} beside.`;
  }
}

/** The nearest that is not struck yet. */
function nearest(strokes: readonly Stroke[], atUs: number): Stroke | null {
  let best: Stroke | null = null;
  const from = rightOf(strokes as Stroke[], atUs - WITHIN_US - 1);
  for (let i = from; i < strokes.length && strokes[i]!.atUs <= atUs + WITHIN_US; i++) {
    const s = strokes[i]!;
    if (s.error !== null) continue;
    if (!best || Math.abs(s.atUs - atUs) < Math.abs(best.atUs - atUs)) best = s;
  }
  return best;
}

/** Middle of the errors, so that a player who is late as a whole is told so. */
export function middleOf(errorsMs: readonly number[]): number | null {
  if (errorsMs.length === 0) return null;
  const sorted = [...errorsMs].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}
