import type { Damage, DamageCode } from '../diagnostic/damage';

/** Gathers damage; the same thing met again and again on a track is one entry with a count. */
export class DamageLog {
  readonly list: Damage[] = [];
  /** Where the last entry of each track stands in the list. */
  private readonly lastOf = new Map<number | null, number>();
  /** Takes over what another log gathered behind this one. */
  take(other: DamageLog) {
    for (const damage of other.list) {
      this.lastOf.set(damage.track, this.list.length);
      this.list.push(damage);
    }
  }

  /** Forgets what was gathered since the list was so long. */
  cutTo(length: number) {
    this.list.length = length;
    this.lastOf.clear();
    this.list.forEach((d, i) => this.lastOf.set(d.track, i));
  }

  add(code: DamageCode, byteOffset: number, track: number | null, value?: number, limit?: number) {
    const at = this.lastOf.get(track);
    const last = at === undefined ? undefined : this.list[at]!;
    if (last?.code === code && track !== null && code !== 'chunk-length') {
      this.list[at!] = { ...last, times: last.times + 1 };
      return;
    }
    this.lastOf.set(track, this.list.length);
    this.list.push({
      code,
      byteOffset,
      track,
      times: 1,
      ...(value === undefined ? {} : { value }),
      ...(limit === undefined ? {} : { limit }),
    });
  }
}
