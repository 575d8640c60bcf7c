import type { Damage, DamageCode } from '../diagnostic/damage';

/** Gathers damage; the same thing met again and again on a track is one entry with a count. */
/** Beyond so many entries all of a kind are one: a file of nothing but faults says each of them once. */
const MOST_ENTRIES = 1000;

export class DamageLog {
  readonly list: Damage[] = [];
  /** Where the last entry of each track stands in the list. */
  private readonly lastOf = new Map<number | null, number>();
  /** Beyond the most, by kind. */
  private readonly summed = new Map<DamageCode, number>();

  /** Takes over what another log gathered behind this one. */
  take(other: DamageLog) {
    for (const damage of other.list) this.push(damage);
  }

  private push(damage: Damage) {
    if (this.list.length >= MOST_ENTRIES) {
      const known = this.summed.get(damage.code);
      if (known !== undefined) {
        const sum = this.list[known]!;
        this.list[known] = { ...sum, times: sum.times + damage.times };
        return;
      }
      this.summed.set(damage.code, this.list.length);
    }
    this.lastOf.set(damage.track, this.list.length);
    this.list.push(damage);
  }

  add(code: DamageCode, byteOffset: number, track: number | null, value?: number, limit?: number) {
    const at = this.lastOf.get(track);
    const last = at === undefined ? undefined : this.list[at]!;
    if (last?.code === code && track !== null && code !== 'chunk-length') {
      this.list[at!] = { ...last, times: last.times + 1 };
      return;
    }
    this.push({
      code,
      byteOffset,
      track,
      times: 1,
      ...(value === undefined ? {} : { value }),
      ...(limit === undefined ? {} : { limit }),
    });
  }
}
