import type { Happening } from '../../../core/standin/played';

/** What each controller stands at, asked by time: from the values that a device took. */
export class Levels {
  private readonly at = new Map<number, { us: number[]; value: number[] }>();

  constructor(events: readonly Happening[]) {
    for (const e of events) {
      if (e.kind !== 'level') continue;
      const own = this.at.get(e.key) ?? { us: [], value: [] };
      this.at.set(e.key, own);
      own.us.push(e.atUs);
      own.value.push(Number(e.value));
    }
  }

  get keys(): number[] {
    return [...this.at.keys()].sort((a, b) => a - b);
  }

  /** The last value taken, and when; null before the first. */
  last(key: number, us: number): { value: number; atUs: number } | null {
    const own = this.at.get(key);
    if (!own) return null;
    let [low, high] = [0, own.us.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (own.us[mid]! <= us) low = mid + 1;
      else high = mid;
    }
    return low === 0 ? null : { value: own.value[low - 1]!, atUs: own.us[low - 1]! };
  }

  /** Where a slow one has come to: it moves towards each value at its own pace. */
  reached(key: number, us: number, fullUs: number): number {
    const own = this.at.get(key);
    if (!own || fullUs <= 0) return this.last(key, us)?.value ?? 0;
    // What is further back than a whole move has no say any more.
    let i = 0;
    while (i < own.us.length && own.us[i]! < us - fullUs * 2) i++;
    let value = i === 0 ? 0 : own.value[i - 1]!;
    for (; i < own.us.length && own.us[i]! <= us; i++) {
      const until = Math.min(us, own.us[i + 1] ?? us);
      const most = ((until - own.us[i]!) * 127) / fullUs;
      const far = own.value[i]! - value;
      value += Math.sign(far) * Math.min(Math.abs(far), most);
    }
    return value;
  }
}
