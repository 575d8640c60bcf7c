import type { Damage, DamageCode } from '../diagnostic/damage';

/** Gathers damage; the same thing met again and again on a track is one entry with a count. */
export class DamageLog {
  readonly list: Damage[] = [];
  add(code: DamageCode, byteOffset: number, track: number | null, value?: number, limit?: number) {
    const last = this.list.findLast((d) => d.track === track);
    if (last?.code === code && track !== null && code !== 'chunk-length') {
      this.list[this.list.indexOf(last)] = { ...last, times: last.times + 1 };
      return;
    }
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
